import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type Joi from 'joi';
import { type Endpoint, type EndpointKey, ENDPOINTS } from '../../contract/endpoints.ts';
import { type JsonSchema, jsonSchemaOf } from '../../contract/jsonSchema.ts';
import { commandSchemas } from '../../contract/commandSchemas.ts';
import { ROOT } from '../place.ts';

interface PublishedAnswers {
  properties: Record<string, JsonSchema>;
  definitions: Record<string, JsonSchema>;
}

/** Made from the types of `answers.ts` by `npm run answers`. */
const published = (): PublishedAnswers =>
  JSON.parse(
    readFileSync(join(ROOT, 'src', 'contract', 'answers.schema.json'), 'utf8'),
  ) as PublishedAnswers;

/** A type's name as the document may use it: `Signed<JobEvent>` is `Signed_JobEvent`. */
const componentName = (name: string): string =>
  name.replaceAll(/[^A-Za-z0-9.-]+/g, '_').replace(/_$/, '');

/** A schema with its references turned to where the document keeps them, and its tuples to how it tells them. */
function relinked(node: unknown): unknown {
  if (Array.isArray(node)) return node.map(relinked);
  if (typeof node !== 'object' || node === null) return node;
  // The types are told in draft 7, where a tuple's parts are its items; the document speaks draft 2020-12.
  const { items, additionalItems: _, ...rest } = node as JsonSchema;
  const told = Array.isArray(items) ? { ...rest, prefixItems: items, items: false } : node;
  return Object.fromEntries(
    Object.entries(told).map(([key, value]) =>
      key === '$ref' && typeof value === 'string'
        ? [
            key,
            `#/components/schemas/${componentName(decodeURIComponent(value.replace('#/definitions/', '')))}`,
          ]
        : [key, relinked(value)],
    ),
  );
}

const known = new Map<string, JsonSchema>();

/**
 * The API document: what is taken in by the schemas the edges check with, what is answered by the types the code uses. Made once:
 * it costs a tenth of a second.
 */
export function openApiDocument(version: string): JsonSchema {
  const document = known.get(version) ?? makeDocument(version);
  known.set(version, document);
  return document;
}

function makeDocument(version: string): JsonSchema {
  const { properties, definitions } = published();
  const paths: Record<string, JsonSchema> = {};
  for (const [key, endpoint] of Object.entries(ENDPOINTS) as [EndpointKey, Endpoint][]) {
    const path = endpoint.path.replaceAll(/:(\w+)/g, '{$1}');
    paths[path] = { ...paths[path], [endpoint.method]: operation(key, endpoint, properties[key]) };
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Cork Ember',
      version,
      description:
        'Moments are milliseconds since the epoch; everything else SI, temperatures in °C.',
    },
    servers: [{ url: '/' }],
    paths,
    components: {
      schemas: {
        ...Object.fromEntries(
          Object.entries(definitions).map(([name, schema]) => [
            componentName(name),
            relinked(schema),
          ]),
        ),
        problem: relinked(properties['problem']),
        ...Object.fromEntries(
          Object.entries(commandSchemas).map(([type, schema]) => [
            `command.${type}`,
            jsonSchemaOf(schema),
          ]),
        ),
      },
    },
  };
}

function operation(
  key: EndpointKey,
  endpoint: Endpoint,
  answer: JsonSchema | undefined,
): JsonSchema {
  const parameters = [
    ...parametersOf(endpoint.params, 'path'),
    ...parametersOf(endpoint.query, 'query'),
  ];
  return {
    operationId: key,
    summary: endpoint.summary,
    ...(parameters.length > 0 ? { parameters } : {}),
    ...(endpoint.takes
      ? {
          requestBody: {
            required: true,
            content: {
              [endpoint.takes]: {
                schema: {
                  type: 'string',
                  contentEncoding: 'binary',
                  contentMediaType: endpoint.takes,
                },
              },
            },
          },
        }
      : {}),
    ...(endpoint.body
      ? {
          requestBody: {
            required: true,
            content: { 'application/json': { schema: jsonSchemaOf(endpoint.body) } },
          },
        }
      : {}),
    responses: {
      [endpoint.creates ? 201 : 200]: {
        description: endpoint.creates ? 'Created' : 'Done',
        content: { [endpoint.produces]: { schema: contentOf(endpoint, answer) } },
      },
      '4XX': {
        description: 'Refused: a code, a sentence, and one for each field',
        content: { 'application/json': { schema: { $ref: '#/components/schemas/problem' } } },
      },
    },
  };
}

/** Answers of no type of ours: a document as it is, a schema or this very document as any object. */
function contentOf({ produces }: Endpoint, answer: JsonSchema | undefined): unknown {
  if (answer) return relinked(answer);
  if (produces === 'application/pdf' || produces === 'image/jpeg')
    return { type: 'string', contentEncoding: 'binary', contentMediaType: produces };
  return produces.endsWith('json') ? { type: 'object' } : { type: 'string' };
}

function parametersOf(schema: Joi.ObjectSchema | undefined, where: 'path' | 'query'): JsonSchema[] {
  if (!schema) return [];
  const { properties, required } = jsonSchemaOf(schema) as {
    properties: Record<string, JsonSchema>;
    required?: string[];
  };
  return Object.entries(properties).map(([name, property]) => ({
    name,
    in: where,
    required: where === 'path' || (required ?? []).includes(name),
    schema: property,
  }));
}
