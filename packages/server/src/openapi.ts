import { z } from 'zod';
import {
  keptRunSchema,
  machineJsonSchema,
  machineSummarySchema,
  motorSchema,
  refusalSchema,
  studyStateSchema,
  studyWishesSchema,
} from '@yoke/core';

const plain = (schema: unknown) => {
  const { $schema: _, ...rest } = schema as Record<string, unknown>;
  return rest;
};
const ref = (name: string) => ({ $ref: `#/components/schemas/${name}` });
const many = (name: string) => ({ type: 'array', items: ref(name) });
const json = (schema: unknown) => ({ 'application/json': { schema } });
const answer = (description: string, content?: unknown) => ({ description, ...(content ? { content } : {}) });
const failure = (description: string) =>
  answer(description, { 'application/problem+json': { schema: ref('Problem') } });
const idParameter = { name: 'id', in: 'path', required: true, schema: { type: 'string', format: 'uuid' } };
const ifMatch = {
  name: 'If-Match',
  in: 'header',
  required: true,
  description: 'ETag of the revision that was edited (RFC 9110)',
  schema: { type: 'string' },
};

const idempotencyKey = {
  name: 'Idempotency-Key',
  in: 'header',
  required: false,
  description: 'A UUID of the caller: the request repeated with it makes nothing twice, and is answered as done',
  schema: { type: 'string', format: 'uuid' },
};
const anyMatch = { ...ifMatch, description: 'Always “*”: what was seen shall go' };
const whole = (name: string, description: string, most: number) => ({
  name,
  in: 'query',
  required: false,
  description,
  schema: { type: 'integer', minimum: 0, maximum: most },
});

/** Description of the HTTP API (OpenAPI 3.1); the schemas are derived from those that check the data. */
export function openApi() {
  const document = { required: true, content: json(ref('Machine')) };
  const csv = { 'text/csv': { schema: { type: 'string' } } };
  const motors = answer('The catalogue', json(many('Motor')));
  return {
    openapi: '3.1.0',
    info: {
      title: 'Yoke',
      version: '1',
      description:
        'Machines and the motor catalogue. SI units throughout. Changes are taken from the application’s own page (Origin, Sec-Fetch-Site) or with the token of the data folder as bearer token; else 403. While the database is away: 503 with Retry-After.',
    },
    security: [{ token: [] }],
    paths: {
      '/api/machines': {
        get: {
          summary: 'List machines, a page at a time',
          parameters: [
            whole('limit', 'Machines in a page, 1 to 500; 100 where left out', 500),
            whole('offset', 'Machines before the page', 999_999_999),
            {
              name: 'deleted',
              in: 'query',
              required: false,
              description: 'Deleted machines instead, with the time at which they go for good',
              schema: { type: 'boolean' },
            },
          ],
          responses: {
            200: answer('Summaries, newest change first; Link names the next page', json(many('MachineSummary'))),
            400: failure('limit or offset is no such number'),
          },
        },
        post: {
          summary: 'Create a machine',
          parameters: [idempotencyKey],
          requestBody: document,
          responses: {
            201: answer('Created; ETag names its revision', json(ref('MachineSummary'))),
            409: failure('The key was used for something else'),
            415: failure('No JSON'),
            422: failure('Invalid document'),
          },
        },
      },
      '/api/machines/{id}': {
        parameters: [idParameter],
        get: {
          summary: 'Read a machine',
          responses: { 200: answer('The document', json(ref('Machine'))), 404: failure('No such machine') },
        },
        put: {
          summary: 'Save a machine',
          parameters: [ifMatch],
          requestBody: document,
          responses: {
            200: answer('Saved, or the same content is there already; ETag names the revision'),
            412: failure('Changed elsewhere meanwhile'),
            422: failure('Invalid document'),
            428: failure('If-Match is missing'),
          },
        },
        delete: {
          summary: 'Delete a machine',
          parameters: [ifMatch],
          responses: {
            204: answer('Deleted; can be restored for 30 days'),
            404: failure('No such machine'),
            412: failure('Changed elsewhere meanwhile'),
            428: failure('If-Match is missing'),
          },
        },
      },
      '/api/machines/{id}/restore': {
        parameters: [idParameter],
        post: { summary: 'Undo a deletion', responses: { 200: answer('Restored', json(ref('MachineSummary'))) } },
      },
      '/api/machines/{id}/duplicate': {
        parameters: [idParameter],
        post: {
          summary: 'Copy a machine',
          parameters: [idempotencyKey],
          responses: { 201: answer('The copy', json(ref('MachineSummary'))) },
        },
      },
      '/api/studies': {
        post: {
          summary: 'Begin many runs of a machine with scattered values, on the thread pool',
          requestBody: {
            required: true,
            content: json({ type: 'object', properties: { document: ref('Machine'), wishes: ref('Study') } }),
          },
          parameters: [idempotencyKey],
          responses: {
            202: answer('Begun; Location names the study. It is gone on with after a restart', json(ref('StudyState'))),
            422: failure('Invalid document or wishes, or a run beyond the budget'),
            503: failure('Too many studies at a time'),
          },
        },
      },
      '/api/studies/{id}': {
        parameters: [idParameter],
        get: {
          summary: 'How far it is, and the runs done',
          responses: { 200: answer('The study', json(ref('StudyState'))), 404: failure('No such study') },
        },
        delete: { summary: 'Cancel it', parameters: [anyMatch], responses: { 204: answer('Cancelled') } },
      },
      '/api/machines/{id}/runs': {
        parameters: [idParameter],
        get: {
          summary: 'Runs kept of a machine, without the documents they came from',
          responses: { 200: answer('Runs', json(many('KeptRun'))) },
        },
        post: {
          summary: 'Keep a run: a name and the document it is computed from',
          parameters: [idempotencyKey],
          requestBody: {
            required: true,
            content: json({
              type: 'object',
              required: ['name', 'document'],
              properties: {
                name: { type: 'string' },
                cycleTime: { type: 'number', description: 'Time of its cycle as it came out, s' },
                document: ref('Machine'),
              },
            }),
          },
          responses: {
            201: answer('Kept', json(ref('KeptRun'))),
            409: failure('Too many'),
            422: failure('Invalid document'),
          },
        },
      },
      '/api/machines/{id}/runs/{run}': {
        parameters: [idParameter, { ...idParameter, name: 'run' }],
        get: {
          summary: 'A run kept, with the document it came from',
          responses: { 200: answer('The run'), 404: failure('No such run') },
        },
        delete: {
          summary: 'Forget a run',
          parameters: [anyMatch],
          responses: { 204: answer('Forgotten'), 404: failure('No such run'), 428: failure('If-Match is missing') },
        },
      },
      '/api/results/{key}': {
        parameters: [
          { name: 'key', in: 'path', required: true, schema: { type: 'string', pattern: '^[0-9a-f]{64}$' } },
        ],
        get: {
          summary: 'The result of a kept run, by the SHA-256 of what it goes by',
          responses: {
            200: answer('CBOR (RFC 8949) packed by gzip', { 'application/gzip': { schema: { type: 'string' } } }),
            204: answer('None is kept'),
            400: failure('No such name'),
          },
        },
      },
      '/api/geometry': {
        post: {
          summary: 'Keep geometry of solids: once, by its content',
          requestBody: {
            required: true,
            content: { 'model/gltf-binary': { schema: { type: 'string', format: 'binary' } } },
          },
          responses: {
            200: answer('It is kept already'),
            201: answer('Kept; the answer has its SHA-256 as `hash`'),
            413: failure('Larger than 128 MB'),
            415: failure('No GLB'),
            422: failure('No GLB, or cut short'),
            507: failure('No room'),
          },
        },
      },
      '/api/geometry/{hash}': {
        parameters: [
          { name: 'hash', in: 'path', required: true, schema: { type: 'string', pattern: '^[0-9a-f]{64}$' } },
        ],
        get: {
          summary: 'Geometry of solids, by the SHA-256 of its content',
          responses: {
            200: answer('GLB', { 'model/gltf-binary': { schema: { type: 'string', format: 'binary' } } }),
            400: failure('No such name'),
            404: failure('It is not kept here'),
          },
        },
      },
      '/api/motors': { get: { summary: 'Read the catalogue', responses: { 200: motors } } },
      '/api/motors/csv': {
        get: { summary: 'The catalogue as CSV', responses: { 200: answer('CSV', csv) } },
      },
      '/api/motors/import': {
        post: {
          summary: 'Extend or replace the catalogue from CSV',
          parameters: [{ name: 'mode', in: 'query', schema: { enum: ['extend', 'replace'] } }],
          requestBody: { required: true, content: csv },
          responses: { 200: motors, 422: failure('Row and column at fault') },
        },
      },
      '/api/motors/reset': {
        post: { summary: 'Bring back the demonstration catalogue', responses: { 200: motors } },
      },
      '/api/motors/undo': {
        post: {
          summary: 'Bring back the catalogue as it was before the last change',
          responses: { 200: motors, 409: failure('Nothing to undo') },
        },
      },
      '/api/openapi.json': { get: { summary: 'This description', responses: { 200: answer('OpenAPI 3.1') } } },
      '/api/health': { get: { summary: 'Whether server and database answer', responses: { 200: answer('Yes') } } },
    },
    components: {
      securitySchemes: { token: { type: 'http', scheme: 'bearer' } },
      schemas: {
        MachineSummary: plain(z.toJSONSchema(machineSummarySchema)),
        KeptRun: plain(z.toJSONSchema(keptRunSchema)),
        StudyState: plain(z.toJSONSchema(studyStateSchema)),
        Study: plain(z.toJSONSchema(studyWishesSchema)),
        Machine: plain(machineJsonSchema()),
        Motor: plain(z.toJSONSchema(motorSchema)),
        Problem: plain(z.toJSONSchema(refusalSchema)),
      },
    },
  };
}
