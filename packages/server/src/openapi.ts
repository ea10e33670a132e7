import { z } from 'zod';
import { machineJsonSchema, motorSchema } from '@yoke/core';
import { studySchema } from './studies';

const problem = z
  .object({
    type: z.string(),
    title: z.string(),
    status: z.int(),
    detail: z.string(),
    problems: z.array(z.object({ path: z.string(), message: z.string() })).optional(),
    revision: z.int().optional(),
  })
  .meta({ title: 'Problem details (RFC 9457)' });

const plain = (schema: unknown) => {
  const { $schema: _, ...rest } = schema as Record<string, unknown>;
  return rest;
};
const ref = (name: string) => ({ $ref: `#/components/schemas/${name}` });
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

/** Description of the HTTP API (OpenAPI 3.1); the schemas are derived from those that check the data. */
export function openApi() {
  const document = { required: true, content: json(ref('Machine')) };
  const csv = { 'text/csv': { schema: { type: 'string' } } };
  const motors = answer('The catalogue', json({ type: 'array', items: ref('Motor') }));
  return {
    openapi: '3.1.0',
    info: { title: 'Yoke', version: '1', description: 'Machines and the motor catalogue. SI units throughout.' },
    paths: {
      '/api/machines': {
        get: { summary: 'List machines', responses: { 200: answer('Summaries, newest change first') } },
        post: {
          summary: 'Create a machine',
          requestBody: document,
          responses: { 201: answer('Created; ETag names its revision'), 422: failure('Invalid document') },
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
            200: answer('Saved; ETag names the new revision'),
            412: failure('Changed elsewhere meanwhile'),
            422: failure('Invalid document'),
            428: failure('If-Match is missing'),
          },
        },
        delete: { summary: 'Delete a machine', responses: { 204: answer('Deleted; can be restored') } },
      },
      '/api/machines/{id}/restore': {
        parameters: [idParameter],
        post: { summary: 'Undo a deletion', responses: { 200: answer('Restored') } },
      },
      '/api/machines/{id}/duplicate': {
        parameters: [idParameter],
        post: { summary: 'Copy a machine', responses: { 201: answer('The copy') } },
      },
      '/api/studies': {
        post: {
          summary: 'Begin many runs of a machine with scattered values, on the thread pool',
          requestBody: {
            required: true,
            content: json({ type: 'object', properties: { document: ref('Machine'), wishes: ref('Study') } }),
          },
          responses: { 202: answer('Begun; Location names the study'), 422: failure('Invalid document or wishes') },
        },
      },
      '/api/studies/{id}': {
        parameters: [idParameter],
        get: {
          summary: 'How far it is, and the runs done',
          responses: { 200: answer('The study'), 404: failure('No such study') },
        },
        delete: { summary: 'Cancel it', responses: { 204: answer('Cancelled') } },
      },
      '/api/machines/{id}/runs': {
        parameters: [idParameter],
        get: {
          summary: 'Runs kept of a machine, with the documents they came from',
          responses: { 200: answer('Runs') },
        },
        post: {
          summary: 'Keep a run: a name and the document it is computed from',
          requestBody: {
            required: true,
            content: json({
              type: 'object',
              required: ['name', 'document'],
              properties: { name: { type: 'string' }, document: ref('Machine') },
            }),
          },
          responses: { 201: answer('Kept'), 409: failure('Too many'), 422: failure('Invalid document') },
        },
      },
      '/api/machines/{id}/runs/{run}': {
        parameters: [idParameter, { ...idParameter, name: 'run' }],
        delete: { summary: 'Forget a run', responses: { 204: answer('Forgotten'), 404: failure('No such run') } },
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
      '/api/health': { get: { summary: 'Whether server and database answer', responses: { 200: answer('Yes') } } },
    },
    components: {
      schemas: {
        Study: plain(z.toJSONSchema(studySchema)),
        Machine: plain(machineJsonSchema()),
        Motor: plain(z.toJSONSchema(motorSchema)),
        Problem: plain(z.toJSONSchema(problem)),
      },
    },
  };
}
