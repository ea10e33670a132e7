import type { KeptRun, Machine, MachineSummary, Motor, Problem, Refusal, StudyState, StudyWishes } from '@yoke/core';

/** A page of machines, and whether there are more. */
export interface MachinePage {
  machines: MachineSummary[];
  more: boolean;
}

/** The motor catalogue, and how many motors the one before the last change had; null where there is none. */
export interface Catalogue {
  motors: Motor[];
  former: number | null;
}

/** An answer of the server that refuses a request (RFC 9457), or status 0 where the server is out of reach. */
export class ApiProblem extends Error {
  override name = 'ApiProblem';
  constructor(
    readonly status: number,
    message: string,
    readonly problems: readonly Problem[] = [],
    readonly revision?: number,
  ) {
    super(message);
  }

  /** Whether the server may have done what was asked all the same: its answer is missing, or it failed on the way. */
  get outcomeUnknown(): boolean {
    return this.status === 0 || this.status >= 500;
  }
}

async function call(path: string, init: RequestInit = {}): Promise<Response> {
  let response: Response;
  try {
    response = await fetch(`/api/${path}`, init);
  } catch {
    throw new ApiProblem(0, 'The server cannot be reached: is “npm start” still running?');
  }
  if (response.ok) return response;
  const body = (await response.json().catch(() => ({}))) as Partial<Refusal>;
  const detail = body.detail ?? `The server answered ${response.status}.`;
  throw new ApiProblem(response.status, detail, body.problems, body.revision);
}

/** Waits before a request whose outcome is not known is sent again, ms. */
const AGAIN_AFTER = [300, 1500];

/**
 * A change that may be sent again without being made twice: it carries a key of its own, or is the same whenever it
 * is made. While its outcome is not known it is tried again; a lost answer so becomes no double.
 */
async function change(path: string, init: RequestInit): Promise<Response> {
  for (let tried = 0; ; tried++)
    try {
      return await call(path, init);
    } catch (error) {
      const wait = AGAIN_AFTER[tried];
      if (wait === undefined || !(error as ApiProblem).outcomeUnknown) throw error;
      await new Promise((resolve) => setTimeout(resolve, wait));
    }
}

/** A key by which the server knows a request that comes again. */
const keyed = () => ({ 'Idempotency-Key': newKey() });
function newKey(): string {
  // randomUUID is there on secure pages only, and a machine in the workshop is reached by plain http.
  if (typeof crypto.randomUUID === 'function') return crypto.randomUUID();
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  bytes[6] = (bytes[6]! & 0x0f) | 0x40;
  bytes[8] = (bytes[8]! & 0x3f) | 0x80;
  const hex = [...bytes].map((byte) => byte.toString(16).padStart(2, '0')).join('');
  return hex.replace(/^(.{8})(.{4})(.{4})(.{4})(.{12})$/, '$1-$2-$3-$4-$5');
}

const json = (method: string, body: unknown, headers: Record<string, string> = {}): RequestInit => ({
  method,
  headers: { 'Content-Type': 'application/json', ...headers },
  body: JSON.stringify(body),
});

const revisionOf = (response: Response) => Number(/\d+/.exec(response.headers.get('ETag') ?? '')?.[0] ?? 0);

/** The server's API; every call fails with an {@link ApiProblem}. */
export const api = {
  async listMachines({ offset = 0, deleted = false } = {}): Promise<MachinePage> {
    const response = await call(`machines?offset=${offset}${deleted ? '&deleted=true' : ''}`);
    const machines = (await response.json()) as MachineSummary[];
    return { machines, more: response.headers.get('Link')?.includes('rel="next"') ?? false };
  },
  async createMachine(machine: Machine): Promise<MachineSummary> {
    return (await change('machines', json('POST', machine, keyed()))).json() as Promise<MachineSummary>;
  },
  async readMachine(id: string): Promise<{ machine: Machine; revision: number }> {
    const response = await call(`machines/${id}`);
    return { machine: (await response.json()) as Machine, revision: revisionOf(response) };
  },
  /** Saves a machine that was last seen at `revision`; gives the new revision. */
  async saveMachine(id: string, machine: Machine, revision: number): Promise<number> {
    return revisionOf(await call(`machines/${id}`, json('PUT', machine, { 'If-Match': `"${revision}"` })));
  },
  async beginStudy(document: Machine, wishes: StudyWishes): Promise<StudyState> {
    return (await change('studies', json('POST', { document, wishes }, keyed()))).json() as Promise<StudyState>;
  },
  async readStudy(id: string): Promise<StudyState> {
    return (await call(`studies/${id}`)).json() as Promise<StudyState>;
  },
  async cancelStudy(id: string): Promise<void> {
    await change(`studies/${id}`, { method: 'DELETE', headers: { 'If-Match': '*' } });
  },
  /** Deletes a machine that was last seen at `revision`. */
  async deleteMachine(id: string, revision: number): Promise<void> {
    await change(`machines/${id}`, { method: 'DELETE', headers: { 'If-Match': `"${revision}"` } });
  },
  async restoreMachine(id: string): Promise<void> {
    await change(`machines/${id}/restore`, { method: 'POST' });
  },
  async duplicateMachine(id: string): Promise<MachineSummary> {
    const init = { method: 'POST', headers: keyed() };
    return (await change(`machines/${id}/duplicate`, init)).json() as Promise<MachineSummary>;
  },
  async listRuns(machineId: string): Promise<KeptRun[]> {
    return (await call(`machines/${machineId}/runs`)).json() as Promise<KeptRun[]>;
  },
  /** The document a kept run is computed from. */
  async readRun(machineId: string, id: string): Promise<Machine> {
    const run = (await (await call(`machines/${machineId}/runs/${id}`)).json()) as { document: Machine };
    return run.document;
  },
  async keepRun(
    machineId: string,
    run: { name: string; document: Machine; cycleTime: number | null },
  ): Promise<KeptRun> {
    return (await change(`machines/${machineId}/runs`, json('POST', run, keyed()))).json() as Promise<KeptRun>;
  },
  async forgetRun(machineId: string, id: string): Promise<void> {
    await call(`machines/${machineId}/runs/${id}`, { method: 'DELETE', headers: { 'If-Match': '*' } });
  },
  /** Keeps geometry on the server; gives the hash by which it is found. */
  async keepGeometry(content: Uint8Array<ArrayBuffer>): Promise<string> {
    const init = { method: 'POST', headers: { 'Content-Type': 'model/gltf-binary' }, body: content };
    return ((await (await change('geometry', init)).json()) as { hash: string }).hash;
  },
  async readGeometry(hash: string): Promise<Uint8Array<ArrayBuffer>> {
    return new Uint8Array(await (await call(`geometry/${hash}`)).arrayBuffer());
  },
  listMotors: (): Promise<Catalogue> => call('motors').then(catalogueOf),
  importMotors: (csv: string, mode: 'extend' | 'replace'): Promise<Catalogue> =>
    call(`motors/import?mode=${mode}`, {
      method: 'POST',
      headers: { 'Content-Type': 'text/csv' },
      body: csv,
    }).then(catalogueOf),
  resetMotors: (): Promise<Catalogue> => call('motors/reset', { method: 'POST' }).then(catalogueOf),
  /** Brings back the catalogue as it was before the last change. */
  undoMotors: (): Promise<Catalogue> => call('motors/undo', { method: 'POST' }).then(catalogueOf),
};

async function catalogueOf(response: Response): Promise<Catalogue> {
  const former = response.headers.get('Yoke-Former-Motors');
  return { motors: (await response.json()) as Motor[], former: former === null ? null : Number(former) };
}
