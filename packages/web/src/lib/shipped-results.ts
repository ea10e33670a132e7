import { readResult, type KeptResult } from '@yoke/core';

/** Where the results lie that came with the page, those of demonstration machines that take a while. */
const FOLDER = '/results/';

/** Results that came with the page. Never fails: what cannot be read is computed. */
export class ShippedResults {
  private keys: Promise<ReadonlySet<string>> | null = null;

  constructor(private readonly read: (path: string) => Promise<Response> = (path) => fetch(path)) {}

  async find(key: string): Promise<KeptResult | null> {
    try {
      this.keys ??= this.read(`${FOLDER}index.json`).then(async (answer) => new Set((await answer.json()) as string[]));
      if (!(await this.keys).has(key)) return null;
      const { ok, body } = await this.read(`${FOLDER}${key}.cbor.gz`);
      if (!ok || !body) return null;
      const plain = new Response(body.pipeThrough(new DecompressionStream('gzip')));
      return readResult(new Uint8Array(await plain.arrayBuffer()));
    } catch {
      return null;
    }
  }
}
