import { isIP } from 'node:net';
import type { ChangeRules } from '../../../contract/asks.ts';
import { differences } from '../../../core/house/mergeRules.ts';
import type { HouseRules } from '../../../core/house/rules.ts';
import type { Transaction } from 'sequelize';
import { type Context, once, readRules, rulesVersion, writeRules } from '../../context.ts';
import { HttpProblem } from '../../http/problem.ts';
import type { Store } from '../../store/store.ts';
import { isOwnAddress } from '../../instruments/address.ts';

/** Changes the house rules. Jobs under way keep the rules they began with. */
export async function changeRules(context: Context, body: ChangeRules): Promise<HouseRules> {
  const { store, changes } = context;
  const rules = await once(context, body, async ({ by, transaction, log }) => {
    if (by.role !== 'lead')
      throw new HttpProblem(403, {
        code: 'forbidden',
        message: 'Only a lead changes the house rules.',
        fields: { by: 'Only a lead.' },
      });
    const astray = body.rules.instruments.find(
      ({ host }) => isIP(host) !== 0 && !isOwnAddress(host),
    );
    if (astray)
      throw new HttpProblem(422, {
        code: 'invalid',
        message: `${astray.host} is no address of the shop’s own net; instruments are spoken to there and on this machine.`,
        fields: { instruments: `${astray.host} is not the shop’s own.` },
      });
    const before = await readRules(store, transaction);
    if (rulesVersion(before) !== body.version)
      throw await changedMeanwhile(store, before, body.rules, transaction);
    await writeRules(store, body.rules, transaction);
    const data = { type: 'rules.changed', before, after: body.rules };
    await log(data);
    return body.rules;
  });
  changes.announce({ topic: 'shop' });
  return rules;
}

/** Somebody else was quicker: who, and both texts of whatever differs. */
async function changedMeanwhile(
  store: Store,
  theirs: HouseRules,
  mine: HouseRules,
  transaction: Transaction,
): Promise<HttpProblem> {
  const [last] = await store.tables.events.findAll({
    where: { type: 'rules.changed' },
    order: [['seq', 'DESC']],
    limit: 1,
    raw: true,
    transaction,
  });
  const person = last && (await store.tables.people.findByPk(last.by, { raw: true, transaction }));
  const short = (value: unknown) => JSON.stringify(value ?? null).slice(0, 120);
  const fields = differences(theirs, mine).map(({ path, before, after }) => [
    `rules.${path}`,
    `There: ${short(before)}. Yours: ${short(after)}.`,
  ]);
  return new HttpProblem(409, {
    code: 'conflict',
    message: `${person?.name ?? 'Somebody'} has changed the house rules since you read them. Nothing was kept; look at both.`,
    fields: Object.fromEntries(fields) as Record<string, string>,
  });
}
