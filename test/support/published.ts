import type { ErrorObject, ValidateFunction } from 'ajv';
import { Ajv2020 } from 'ajv/dist/2020.js';
import addFormats from 'ajv-formats';
import { type Endpoint, ENDPOINTS } from '../../src/contract/endpoints.ts';
import { openApiDocument } from '../../src/server/http/openapi.ts';

interface Operation {
  responses: Record<string, { content: Record<string, { schema: object }> }>;
}
interface Document {
  paths: Record<string, Record<string, Operation>>;
  components: { schemas: Record<string, object> };
}

/** A reader of schemas that is not ours. */
export function schemaReader(): Ajv2020 {
  // Its validators are made once and asked a few times: what makes them shorter costs more than it saves.
  const reader = new Ajv2020({ strict: false, allErrors: false, code: { optimize: false } });
  addFormats.default(reader);
  return reader;
}

const reader = schemaReader();
const document = openApiDocument('test') as unknown as Document;
reader.addSchema(document, 'api');
const known = new Map<string, ValidateFunction | null>();
const patterns = (Object.values(ENDPOINTS) as Endpoint[]).map((endpoint) => ({
  endpoint,
  path: new RegExp(`^${endpoint.path.replaceAll('.', '\\.').replaceAll(/:\w+/g, '[^/]+')}$`),
}));
// A plain address is meant before one with a name in it: `/api/batteries/:tag` is not `/api/tags/next`.
patterns.sort((a, b) => a.endpoint.path.split(':').length - b.endpoint.path.split(':').length);

const pointer = (...parts: string[]): string =>
  `api#/${parts.map((p) => encodeURIComponent(p.replaceAll('~', '~0').replaceAll('/', '~1'))).join('/')}`;

function schemaOf(endpoint: Endpoint, status: number): ValidateFunction | null {
  const path = endpoint.path.replaceAll(/:(\w+)/g, '{$1}');
  const responses = document.paths[path]?.[endpoint.method]?.responses ?? {};
  const key = status >= 400 ? '4XX' : String(status);
  if (!responses[key]) return null;
  const at = pointer(
    'paths',
    path,
    endpoint.method,
    'responses',
    key,
    'content',
    status >= 400 ? 'application/json' : endpoint.produces,
    'schema',
  );
  const compiled = known.get(at) ?? reader.getSchema(at) ?? null;
  known.set(at, compiled);
  return compiled;
}

/**
 * Holds an answer of the API against what is published of it.
 *
 * @returns what is wrong, or null; addresses the document does not know are none of its business
 */
export function againstPublished(
  method: string,
  path: string,
  status: number,
  body: unknown,
): string | null {
  const { pathname } = new URL(path, 'http://bench');
  const found = patterns.find(
    (p) => p.endpoint.method === method.toLowerCase() && p.path.test(pathname),
  );
  if (!found || status >= 500) return null;
  const validate = schemaOf(found.endpoint, status);
  if (!validate)
    return `${method} ${found.endpoint.path} answered ${status}, which the document does not tell of.`;
  return validate(body)
    ? null
    : `${method} ${found.endpoint.path} (${status}): ${said(validate.errors ?? [])}`;
}

const said = (errors: readonly ErrorObject[]): string =>
  errors.map((e) => `${e.instancePath} ${e.message} ${JSON.stringify(e.params)}`).join('; ');
