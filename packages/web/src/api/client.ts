import type { Machine, Motor, Problem, StudyRun, StudyWishes } from '@yoke/core';

/** What the start page lists of a machine. */
export interface MachineSummary {
  id: string;
  name: string;
  notes: string;
  axes: { name: string; kind: 'linear' | 'rotary'; colour: number }[];
  cycle: Machine['cycle'];
  revision: number;
  updatedAt: string;
}

/** A run that was kept, as the document it is computed from. */
export interface KeptRun {
  id: string;
  name: string;
  revision: number;
  createdAt: string;
  document: Machine;
}

/** Many runs on the server, as far as they are. */
export interface StudyState {
  id: string;
  total: number;
  done: number;
  state: 'running' | 'done' | 'cancelled' | 'failed';
  problem: string | null;
  runs: StudyRun[];
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
}

async function call(path: string, init: RequestInit = {}): Promise<Response> {
  let response: Response;
  try {
    response = await fetch(`/api/${path}`, init);
  } catch {
    throw new ApiProblem(0, 'The server cannot be reached: is “npm start” still running?');
  }
  if (response.ok) return response;
  const body = (await response.json().catch(() => ({}))) as Partial<{
    detail: string;
    problems: Problem[];
    revision: number;
  }>;
  const detail = body.detail ?? `The server answered ${response.status}.`;
  throw new ApiProblem(response.status, detail, body.problems, body.revision);
}

const json = (method: string, body: unknown, headers: Record<string, string> = {}): RequestInit => ({
  method,
  headers: { 'Content-Type': 'application/json', ...headers },
  body: JSON.stringify(body),
});

const revisionOf = (response: Response) => Number(/\d+/.exec(response.headers.get('ETag') ?? '')?.[0] ?? 0);

/** The server's API; every call fails with an {@link ApiProblem}. */
export const api = {
  async listMachines(): Promise<MachineSummary[]> {
    return (await call('machines')).json() as Promise<MachineSummary[]>;
  },
  async createMachine(machine: Machine): Promise<MachineSummary> {
    return (await call('machines', json('POST', machine))).json() as Promise<MachineSummary>;
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
    return (await call('studies', json('POST', { document, wishes }))).json() as Promise<StudyState>;
  },
  async readStudy(id: string): Promise<StudyState> {
    return (await call(`studies/${id}`)).json() as Promise<StudyState>;
  },
  async cancelStudy(id: string): Promise<void> {
    await call(`studies/${id}`, { method: 'DELETE' });
  },
  async deleteMachine(id: string): Promise<void> {
    await call(`machines/${id}`, { method: 'DELETE' });
  },
  async restoreMachine(id: string): Promise<void> {
    await call(`machines/${id}/restore`, { method: 'POST' });
  },
  async duplicateMachine(id: string): Promise<MachineSummary> {
    return (await call(`machines/${id}/duplicate`, { method: 'POST' })).json() as Promise<MachineSummary>;
  },
  async listRuns(machineId: string): Promise<KeptRun[]> {
    return (await call(`machines/${machineId}/runs`)).json() as Promise<KeptRun[]>;
  },
  async keepRun(machineId: string, run: { name: string; document: Machine }): Promise<KeptRun> {
    return (await call(`machines/${machineId}/runs`, json('POST', run))).json() as Promise<KeptRun>;
  },
  async forgetRun(machineId: string, id: string): Promise<void> {
    await call(`machines/${machineId}/runs/${id}`, { method: 'DELETE' });
  },
  async listMotors(): Promise<Motor[]> {
    return (await call('motors')).json() as Promise<Motor[]>;
  },
  async importMotors(csv: string, mode: 'extend' | 'replace'): Promise<Motor[]> {
    const init = { method: 'POST', headers: { 'Content-Type': 'text/csv' }, body: csv };
    return (await call(`motors/import?mode=${mode}`, init)).json() as Promise<Motor[]>;
  },
  async resetMotors(): Promise<Motor[]> {
    return (await call('motors/reset', { method: 'POST' })).json() as Promise<Motor[]>;
  },
};
