import {
  applyVariant,
  brokenBy,
  cycleMeasures,
  everySamples,
  valueAt,
  type CycleRecord,
  type Machine,
  type Run,
  type ToldFinding,
  type KeptRun,
} from '@yoke/core';
import { defineStore } from 'pinia';
import { computed, ref, shallowReactive, shallowRef, watch } from 'vue';
import { api } from '@/api/client';
import { useMachine } from './machine';
import { useRun } from './run';

/** A run that can be laid over the present one: a variant of the machine, or a run that was kept. */
export interface Compared {
  key: string;
  name: string;
  kind: 'variant' | 'kept';
  /** The document it was computed from. */
  document: Machine;
  run: Run | null;
  record: CycleRecord | null;
  /** All that was found in its run, and what broke it off. */
  findings: readonly ToldFinding[];
  broken: ToldFinding | null;
  /** Revision it was kept at; null for variants, which follow the machine. */
  revision: number | null;
  failure: string | null;
}

/** Variants and kept runs beside the present run. */
export const useCompare = defineStore('compare', () => {
  const machine = useMachine();
  const results = useRun();
  const kept = shallowRef<KeptRun[]>([]);
  const shown = ref<string[]>([]);
  const computedRuns = shallowReactive(new Map<string, Compared>());
  /** Documents of kept runs, once read. */
  const documents = new Map<string, Machine>();
  const message = ref('');

  watch(
    () => machine.id,
    async (id) => {
      shown.value = [];
      computedRuns.clear();
      documents.clear();
      kept.value = [];
      message.value = '';
      if (!id) return;
      try {
        const list = await api.listRuns(id);
        if (machine.id === id) kept.value = list;
      } catch (error) {
        message.value = (error as Error).message;
      }
    },
    { immediate: true },
  );

  /** The document that an entry stands for now. */
  async function documentOf(
    key: string,
  ): Promise<{ name: string; kind: Compared['kind']; document: Machine; revision: number | null } | null> {
    const variant = machine.document?.variants.find(({ id }) => `variant:${id}` === key);
    if (variant && machine.document)
      return { name: variant.name, kind: 'variant', document: applyVariant(machine.document, variant), revision: null };
    const run = kept.value.find(({ id }) => `kept:${id}` === key);
    if (!run || !machine.id) return null;
    const document = documents.get(run.id) ?? (await api.readRun(machine.id, run.id));
    documents.set(run.id, document);
    return { name: run.name, kind: 'kept', document, revision: run.revision };
  }

  async function compute(key: string): Promise<void> {
    let wanted: Awaited<ReturnType<typeof documentOf>>;
    try {
      wanted = await documentOf(key);
    } catch (error) {
      message.value = (error as Error).message;
      shown.value = shown.value.filter((other) => other !== key);
      return;
    }
    if (!wanted) return;
    try {
      const { run, record, findings } = await results.cycleOf(wanted.document);
      const broken = brokenBy(findings);
      if (shown.value.includes(key))
        computedRuns.set(key, { key, ...wanted, run, record, findings, broken, failure: null });
    } catch (error) {
      const failure = (error as Error).message;
      if (shown.value.includes(key))
        computedRuns.set(key, { key, ...wanted, run: null, record: null, findings: [], broken: null, failure });
    }
  }

  function toggle(key: string): void {
    if (shown.value.includes(key)) {
      shown.value = shown.value.filter((other) => other !== key);
      computedRuns.delete(key);
    } else {
      shown.value = [...shown.value, key];
      void compute(key);
    }
  }
  // Variants follow the machine; kept runs stay as they were.
  watch(
    () => results.run,
    () => {
      for (const key of shown.value) if (key.startsWith('variant:')) void compute(key);
    },
  );

  const entries = computed(() => shown.value.flatMap((key) => computedRuns.get(key) ?? []));
  /** Names of those that are still being computed, in the order in which they were asked for. */
  const pending = computed(() =>
    shown.value
      .filter((key) => !computedRuns.has(key))
      .map((key) => {
        const [kind, id] = key.split(':');
        const list = kind === 'variant' ? (machine.document?.variants ?? []) : kept.value;
        return { key, name: list.find((own) => own.id === id)?.name ?? '' };
      }),
  );

  /** Keeps the present run (or a variant's) with the document it came from. */
  async function keep(name: string, document: Machine | null = results.document): Promise<void> {
    if (!machine.id || !document) return;
    const { run, record } = results;
    const cycleTime = run && document === results.document ? cycleMeasures(document, { run, record })[0]!.time : null;
    try {
      await machine.saveNow();
      kept.value = [...kept.value, await api.keepRun(machine.id, { name, document, cycleTime })];
      message.value = `Kept “${name}”.`;
    } catch (error) {
      message.value = (error as Error).message;
    }
  }
  async function forget(id: string): Promise<void> {
    if (!machine.id) return;
    try {
      await api.forgetRun(machine.id, id);
      kept.value = kept.value.filter((run) => run.id !== id);
      shown.value = shown.value.filter((key) => key !== `kept:${id}`);
      computedRuns.delete(`kept:${id}`);
    } catch (error) {
      message.value = (error as Error).message;
    }
  }

  /** A channel of another run at the same shares of the cycle as the present run's samples; undefined where it has none. */
  function overlay({ document, run, record }: Compared, id: string, present: Run): Float64Array | undefined {
    const samples = run ? everySamples(document, { run, record }, id) : undefined;
    if (!run || !samples) return undefined;
    const stretch = run.cycleTime / present.cycleTime;
    return present.times.map((time) => valueAt(run.times, samples, time * stretch));
  }

  return { kept, shown, entries, pending, message, toggle, keep, forget, overlay };
});
