import { isIP } from 'node:net';
import type { ChangeRules } from '../../../contract/wire.ts';
import type { HouseRules } from '../../../core/house/rules.ts';
import { type Context, once, readRules, writeRules } from '../../context.ts';
import { HttpProblem } from '../../http/problem.ts';
import { isOwnAddress } from '../../instruments/address.ts';

/** Changes the house rules. Jobs under way keep the rules they began with. */
export async function changeRules(context: Context, body: ChangeRules): Promise<HouseRules> {
  const { store, changes } = context;
  const rules = await once(context, body, async ({ by, now, transaction }) => {
    if (by.role !== 'lead') throw new HttpProblem(403, { code: 'forbidden', message: 'Only a lead changes the house rules.', fields: { by: 'Only a lead.' } });
    const astray = body.rules.instruments.find(({ host }) => isIP(host) !== 0 && !isOwnAddress(host));
    if (astray)
      throw new HttpProblem(422, {
        code: 'invalid',
        message: `${astray.host} is no address of the shop’s own net; instruments are spoken to there and on this machine.`,
        fields: { instruments: `${astray.host} is not the shop’s own.` },
      });
    const before = await readRules(store, transaction);
    await writeRules(store, body.rules, transaction);
    const data = { type: 'rules.changed', before, after: body.rules };
    await store.tables.events.create({ at: now, by: by.id, batteryId: null, jobId: null, commandId: body.commandId, type: data.type, data }, { transaction });
    return body.rules;
  });
  changes.announce({ topic: 'shop' });
  return rules;
}
