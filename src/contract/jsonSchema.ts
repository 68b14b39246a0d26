import type Joi from 'joi';

export type JsonSchema = Record<string, unknown>;

interface Convertible {
  '~standard': {
    jsonSchema: {
      input(options: { target: 'draft-2020-12' }): JsonSchema;
      output(options: { target: 'draft-2020-12' }): JsonSchema;
    };
  };
}

/**
 * The JSON Schema (draft 2020-12) of what a Joi schema takes in or gives out, by Joi's own conversion. A value that
 * may be null is named among the choices too: the conversion leaves it out there.
 */
export function jsonSchemaOf(schema: Joi.Schema, side: 'input' | 'output' = 'input'): JsonSchema {
  return withNulls(
    (schema as unknown as Convertible)['~standard'].jsonSchema[side]({ target: 'draft-2020-12' }),
  ) as JsonSchema;
}

function withNulls(node: unknown): unknown {
  if (Array.isArray(node)) return node.map(withNulls);
  if (typeof node !== 'object' || node === null) return node;
  const copy = Object.fromEntries(
    Object.entries(node).map(([key, value]) => [key, withNulls(value)]),
  );
  const { type, enum: choices } = copy as { type?: unknown; enum?: unknown };
  return Array.isArray(type) &&
    type.includes('null') &&
    Array.isArray(choices) &&
    !choices.includes(null)
    ? { ...copy, enum: [...choices, null] }
    : copy;
}
