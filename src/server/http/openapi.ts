import parse from 'joi-to-json';
import type Joi from 'joi';
import { type Endpoint, ENDPOINTS } from '../../contract/endpoints.ts';
import { commandSchemas } from '../../contract/schemas.ts';

type Json = Record<string, unknown>;

const schemaOf = (schema: Joi.Schema): Json => parse(schema, 'open-api-3.1') as Json;

/** The API document, made from the schemas the edges check with. */
export function openApiDocument(version: string): Json {
  const paths: Record<string, Json> = {};
  for (const endpoint of Object.values(ENDPOINTS)) {
    const path = endpoint.path.replaceAll(/:(\w+)/g, '{$1}');
    paths[path] = { ...paths[path], [endpoint.method]: operation(endpoint) };
  }
  return {
    openapi: '3.1.0',
    info: { title: 'Cork Ember', version, description: 'Moments are milliseconds since the epoch; everything else SI, temperatures in °C.' },
    paths,
    components: { schemas: Object.fromEntries(Object.entries(commandSchemas).map(([type, schema]) => [`command.${type}`, schemaOf(schema)])) },
  };
}

function operation(endpoint: Endpoint): Json {
  const parameters = [...parametersOf(endpoint.params, 'path'), ...parametersOf(endpoint.query, 'query')];
  const problem = { description: 'A problem: code, message, and a message per field' };
  return {
    summary: endpoint.summary,
    ...(parameters.length > 0 ? { parameters } : {}),
    ...(endpoint.body ? { requestBody: { required: true, content: { 'application/json': { schema: schemaOf(endpoint.body) } } } } : {}),
    responses: { 200: { description: 'Done', content: { [endpoint.produces]: {} } }, '4XX': problem },
  };
}

function parametersOf(schema: Joi.ObjectSchema | undefined, where: 'path' | 'query'): Json[] {
  if (!schema) return [];
  const { properties } = schemaOf(schema) as { properties: Record<string, Json> };
  return Object.entries(properties).map(([name, property]) => ({ name, in: where, required: where === 'path', schema: property }));
}
