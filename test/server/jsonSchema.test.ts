import { expect } from 'chai';
import Joi from 'joi';
import { commandSchemas } from '../../src/contract/commandSchemas.ts';
import { jsonSchemaOf } from '../../src/contract/jsonSchema.ts';
import { schemaReader } from '../support/published.ts';

describe('a schema told to others', () => {
  const reader = schemaReader();
  /** Do Joi and a reader of the published schema say the same of these? */
  const agree = (schema: Joi.Schema, values: readonly unknown[]) => {
    const validate = reader.compile(jsonSchemaOf(schema));
    for (const value of values)
      expect(validate(value), JSON.stringify(value)).to.equal(
        schema.validate(value, { convert: false }).error === undefined,
      );
  };

  it('keeps what is named by a pattern', () => {
    agree(Joi.object({ figures: Joi.object().pattern(Joi.string(), Joi.number()) }), [
      { figures: {} },
      { figures: { chargeA: 1.2 } },
      { figures: { chargeA: 'much' } },
      { other: 1 },
    ]);
  });

  it('lets a choice be null where it may be', () => {
    agree(Joi.object({ standard: Joi.string().valid('EN', 'SAE').allow(null).required() }), [
      { standard: 'EN' },
      { standard: null },
      { standard: 'JIS' },
      {},
    ]);
  });

  it('says of a command what the edge says of it', () => {
    agree(commandSchemas.answerChecks, [
      { type: 'answerChecks', stepId: 'foil', answers: { foil: true } },
      { type: 'answerChecks', stepId: 'foil', answers: { foil: 'yes' } },
      { type: 'answerChecks', stepId: 'foil' },
      { type: 'skip', stepId: 'foil', answers: {} },
    ]);
    agree(commandSchemas.startCharge, [
      { type: 'startCharge', stepId: 'charge', place: 1, setA: 1.2, setV: 14.7 },
      { type: 'startCharge', stepId: 'charge', place: 0, setA: 1.2, setV: 14.7 },
      { type: 'startCharge', stepId: 'charge', place: 1.5, setA: 1.2, setV: 14.7 },
      { type: 'startCharge', stepId: 'charge', place: 1, setA: 1.2, setV: 14.7, colour: 'red' },
    ]);
  });
});
