import { readResult, type KeptResult } from '@yoke/core';

/** Where the results lie that came with the page, those of demonstration machines that take a while. */
const FOLDER = '/results/';

/** Where the server gives the results of kept runs. */
const KEPT = '/api/results/';

/** The result in an answer of the server; null where there is none. */
async function unpacked({ status, body }: Response): Promise<KeptResult | null> {
  if (status !== 200 || !body) return null;
  const plain = new Response(body.pipeThrough(new DecompressionStream('gzip')));
  return readResult(new Uint8Array(await plain.arrayBuffer()));
}

/** Results that came with the page, and those of kept runs. Never fails: what cannot be read is computed. */
export class ShippedResults {
  private keys: Promise<ReadonlySet<string>> | null = null;

  constructor(private readonly read: (path: string) => Promise<Response> = (path) => fetch(path)) {}

  async find(key: string): Promise<KeptResult | null> {
    try {
      this.keys ??= this.read(`${FOLDER}index.json`).then(async (answer) => new Set((await answer.json()) as string[]));
      if (!(await this.keys).has(key)) return await unpacked(await this.read(`${KEPT}${key}`));
      return await unpacked(await this.read(`${FOLDER}${key}.cbor.gz`));
    } catch {
      // Asked for again the next time: the server may have been away.
      this.keys = null;
      return null;
    }
  }
}
