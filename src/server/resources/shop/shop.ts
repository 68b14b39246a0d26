import { randomUUID } from 'node:crypto';
import type { AddPerson, ChangeRules, Person } from '../../../contract/wire.ts';
import type { HouseRules } from '../../../core/house/rules.ts';
import { type Context, once, onceUnsigned, readRules, writeRules } from '../../context.ts';
import { HttpProblem } from '../../http/problem.ts';
import type { Store } from '../../store/store.ts';

/** Changes the house rules. Jobs under way keep the rules they began with. */
export async function changeRules(context: Context, body: ChangeRules): Promise<HouseRules> {
  const { store, changes } = context;
  const rules = await once(context, body, async ({ by, now, transaction }) => {
    if (by.role !== 'lead') throw new HttpProblem(403, { code: 'forbidden', message: 'Only a lead changes the house rules.', fields: { by: 'Only a lead.' } });
    const before = await readRules(store, transaction);
    await writeRules(store, body.rules, transaction);
    const data = { type: 'rules.changed', before, after: body.rules };
    await store.tables.events.create({ at: now, by: by.id, batteryId: null, jobId: null, commandId: body.commandId, type: data.type, data }, { transaction });
    return body.rules;
  });
  changes.announce({ topic: 'shop' });
  return rules;
}

/** Everybody who signs, by name; PINs stay behind. */
export async function peopleOf(store: Store): Promise<Person[]> {
  const rows = await store.tables.people.findAll({ order: [['name', 'ASC']], raw: true });
  return rows.map(({ pinHash: _, ...person }) => person);
}

/** Adds a person. A lead does; the first person of a new shop adds themselves and is its lead. */
export async function addPerson(context: Context, body: AddPerson): Promise<Person> {
  const { people, events } = context.store.tables;
  const person = await onceUnsigned(context, body, async ({ now, transaction }) => {
    const known = await people.findAll({ transaction, raw: true });
    const by = known.find((p) => p.id === body.by);
    if (known.length > 0 && by?.role !== 'lead')
      throw new HttpProblem(403, { code: 'forbidden', message: 'Only a lead adds people.', fields: { by: 'Only a lead.' } });
    if (known.length === 0 && body.person.role !== 'lead')
      throw new HttpProblem(422, { code: 'invalid', message: 'The first person is the lead.', fields: { 'person.role': 'The first person is the lead.' } });
    if (known.some((p) => p.initials === body.person.initials))
      throw new HttpProblem(409, {
        code: 'conflict',
        message: `${body.person.initials} signs for somebody else.`,
        fields: { 'person.initials': 'In use already.' },
      });
    const added: Person = { id: randomUUID(), ...body.person };
    await people.create({ ...added, pinHash: null }, { transaction });
    await events.create(
      {
        at: now,
        by: by?.id ?? added.id,
        batteryId: null,
        jobId: null,
        commandId: body.commandId,
        type: 'person.added',
        data: { type: 'person.added', person: added },
      },
      { transaction },
    );
    return added;
  });
  context.changes.announce({ topic: 'shop' });
  return person;
}
