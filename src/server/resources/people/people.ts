import { signerName } from '../../../core/job/signers.ts';
import { randomUUID } from 'node:crypto';
import type { Transaction } from 'sequelize';
import type { AddPerson, SetActive, SetPin } from '../../../contract/asks.ts';
import type { Person } from '../../../contract/wire.ts';
import { type Context, once, onceUnsigned, logEvent } from '../../context.ts';
import { hashPin, pinFits } from '../../door/pins.ts';
import type { Sessions } from '../../door/sessions.ts';
import { conflict, HttpProblem, notFound } from '../../http/problem.ts';
import type { Store } from '../../store/store.ts';
import type { PersonRow } from '../../store/rows.ts';

const onlyLead = (what: string) =>
  new HttpProblem(403, {
    code: 'forbidden',
    message: `Only a lead ${what}.`,
    fields: { by: 'Only a lead.' },
  });

const personOf = ({ id, name, initials, role, active }: PersonRow): Person => ({
  id,
  name,
  initials,
  role,
  active: Boolean(active),
});

/** Everybody who signs or has signed, by name; PINs stay behind. */
export async function peopleOf(store: Store, transaction?: Transaction): Promise<Person[]> {
  return (
    await store.tables.people.findAll({
      order: [['name', 'ASC']],
      raw: true,
      ...(transaction ? { transaction } : {}),
    })
  ).map(personOf);
}

/** Those who sign here today. */
export const activePeople = async (store: Store): Promise<Person[]> =>
  (await peopleOf(store)).filter((p) => p.active);

/** Adds a person. A lead does; the first person of a new shop adds themselves and is its lead. */
export async function addPerson(context: Context, body: AddPerson): Promise<Person> {
  const { people } = context.store.tables;
  const person = await onceUnsigned(context, body, async ({ now, transaction }) => {
    const known = await people.findAll({ transaction, raw: true });
    const by = known.find((p) => p.id === body.by && p.active);
    if (known.length > 0 && by?.role !== 'lead') throw onlyLead('adds people');
    if (known.length === 0 && body.person.role !== 'lead')
      throw new HttpProblem(422, {
        code: 'invalid',
        message: 'The first person is the lead.',
        fields: { 'person.role': 'The first person is the lead.' },
      });
    if (known.some((p) => p.initials === body.person.initials))
      throw conflict(`${body.person.initials} signs for somebody else.`, {
        'person.initials': 'In use already.',
      });
    const added: Person = { id: randomUUID(), ...body.person, active: true };
    await people.create({ ...added, pinHash: null, calendarToken: null }, { transaction });
    const data = { type: 'person.added', person: added };
    await logEvent(
      context.store,
      { at: now, by: by?.id ?? added.id, commandId: body.commandId },
      data,
      transaction,
    );
    return added;
  });
  context.changes.announce({ topic: 'shop' });
  return person;
}

/** Sets a person's PIN: their own, or anybody's for a lead. Their open sessions end. */
export async function setPin(
  context: Context,
  sessions: Sessions,
  personId: string,
  body: SetPin,
): Promise<{ id: string }> {
  const { store, changes } = context;
  const { tables } = store;
  // The write is remembered by its body, and the PIN in it is not for keeping: whether a retry brings the same one, its hash tells.
  const before = await tables.commands.findByPk(body.commandId, { raw: true });
  const kept = before && (await tables.people.findByPk(personId, { raw: true }))?.pinHash;
  if (kept && !(await pinFits(body.pin, kept)))
    throw conflict('That id was used for another PIN.', { commandId: 'Used already.' });
  const pinHash = await hashPin(body.pin);
  const answer = await once(context, { ...body, pin: '' }, async ({ by, transaction, log }) => {
    const person = await tables.people.findByPk(personId, { raw: true, transaction });
    if (!person) throw notFound('That person');
    if (by.id !== personId && by.role !== 'lead') throw onlyLead("sets somebody else's PIN");
    await tables.people.update({ pinHash }, { where: { id: personId }, transaction });
    await tables.sessions.destroy({ where: { personId }, transaction });
    const data = { type: 'pin.set', personId };
    await log(data);
    return { id: personId };
  });
  if (!before) sessions.ended(personId);
  changes.announce({ topic: 'shop' });
  return answer;
}

/** A person who has left signs nothing more, and comes back when a lead says so. What they signed stays theirs. */
export async function setActive(
  context: Context,
  sessions: Sessions,
  personId: string,
  body: SetActive,
): Promise<Person> {
  const { people, sessions: open, devices } = context.store.tables;
  const answer = await once(context, body, async ({ by, transaction, log }) => {
    if (by.role !== 'lead') throw onlyLead('says who works here');
    const known = await people.findAll({ raw: true, transaction });
    const person = known.find((p) => p.id === personId);
    if (!person) throw notFound('That person');
    const leadsLeft = known.filter((p) => p.role === 'lead' && p.active && p.id !== personId);
    if (!body.active && person.role === 'lead' && leadsLeft.length === 0)
      throw conflict('The last lead stays: nobody else could let anybody in again.');
    await people.update(
      { active: body.active, ...(body.active ? {} : { calendarToken: null }) },
      { where: { id: personId }, transaction },
    );
    if (!body.active) {
      await open.destroy({ where: { personId }, transaction });
      await devices.destroy({ where: { personId }, transaction });
    }
    const data = { type: body.active ? 'person.back' : 'person.left', personId };
    await log(data);
    return { ...personOf(person), active: body.active };
  });
  if (!body.active) sessions.ended(personId);
  context.changes.announce({ topic: 'shop' });
  return answer;
}

/** May the server be opened to other machines? Only once a lead can sign in. */
export async function somebodyCanSignIn(store: Store): Promise<boolean> {
  const leads = await store.tables.people.findAll({
    where: { role: 'lead', active: true },
    raw: true,
  });
  return leads.some((p) => p.pinHash !== null);
}

/** Names behind signatures. */
export async function namesOf(store: Store): Promise<(id: string) => string> {
  const people = await peopleOf(store);
  return (id) => signerName(id, people);
}
