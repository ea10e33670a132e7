import {
  applyVariant,
  axisTimes,
  chainOf,
  cycleTimes as cycleTimesOf,
  explainCycleFinding,
  explainSheetFinding,
  letCuesLead,
  type Acted,
  type Cue,
  type CycleRecord,
  type Machine,
  type Sequence,
  type SheetFinding,
} from '@yoke/core';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import type { ShownFinding } from '@/components/FindingsList.vue';
import { useAside } from './aside';
import { useCursor } from './cursor';
import { useMachine } from './machine';
import { useRun } from './run';

const plain = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

/** The cue sheet that is worked on, and what came of it in the last run. */
export const useCues = defineStore('cues', () => {
  const machine = useMachine();
  const results = useRun();
  const cursor = useCursor();
  const chosen = ref<string[]>([]);
  const opened = ref(0);
  const sensorId = ref<string | null>(null);
  const sequence = computed<Sequence | null>(() => machine.document?.sequence ?? null);
  const record = computed<CycleRecord | null>(() => results.record);

  watch(
    () => machine.id,
    () => {
      chosen.value = [];
      sensorId.value = null;
      cycleShown.value = null;
    },
  );

  // What an undo has taken away is no longer chosen, and nothing is put behind it.
  watch(
    () => sequence.value?.cues,
    (list) => {
      const left = chosen.value.filter((id) => list?.some((cue) => cue.id === id));
      if (left.length < chosen.value.length) chosen.value = left;
    },
    { flush: 'sync' },
  );

  /** Replaces the sheet by a changed one. */
  function edit(label: string, change: (sequence: Sequence) => Sequence, key?: string): string | null {
    if (!sequence.value) return 'No machine is open.';
    const next = plain(change(plain(sequence.value)));
    return machine.edit(label, (draft) => void (draft.sequence = next as typeof draft.sequence), key);
  }

  /** Changes one cue. */
  const editCue = (id: string, label: string, change: (cue: Cue) => void, key?: string): string | null =>
    edit(
      label,
      (s) => {
        const cue = s.cues.find((c) => c.id === id);
        if (cue) change(cue);
        return s;
      },
      key,
    );

  /** Changes the whole machine by a pure function. */
  const editMachine = (label: string, change: (machine: Machine) => Machine): string | null => {
    if (!machine.document) return 'No machine is open.';
    const next = plain(change(plain(machine.document)));
    return machine.edit(label, (draft) => void Object.assign(draft, next));
  };

  /** Positions of axes over the run, to tell where a move began. */
  function positionAt(axisId: string, time: number): number {
    const run = results.run;
    const own = results.ofAxis(axisId);
    if (!run || !own) return 0;
    let k = 0;
    while (k + 1 < run.times.length && run.times[k + 1]! <= time + 1e-12) k++;
    return own.channels.position[k]!;
  }

  /** How each cue acted in the last run; of several times the one that the cursor is in or nearest behind. */
  const acted = computed(() => {
    const map = new Map<string, Acted>();
    for (const move of record.value?.moves ?? []) {
      const known = map.get(move.cue);
      if (known && move.from > cursor.time) continue;
      map.set(move.cue, { from: move.from, to: move.to, start: positionAt(move.axis, move.from) });
    }
    for (const cue of sequence.value?.cues ?? [])
      if (!map.has(cue.id) && 'time' in cue.action && typeof cue.action.time === 'number') {
        const event = record.value?.events.find(({ kind, subject }) => kind === 'acts' && subject === cue.id);
        if (event) map.set(cue.id, { from: event.time, to: event.time + cue.action.time, start: 0 });
      }
    return map;
  });

  /** The cycle looked at, from 0; null for the last full one. */
  const cycleShown = ref<number | null>(null);
  const chain = computed(() =>
    record.value
      ? chainOf(record.value, Math.min(cycleShown.value ?? Infinity, Math.max(0, record.value.cycles.length - 2)))
      : null,
  );
  const times = computed(() =>
    record.value && chain.value ? axisTimes(record.value.moves, chain.value.start, chain.value.end) : [],
  );
  const cycleTimes = computed(() => (record.value ? cycleTimesOf(record.value) : []));

  const aside = useAside();
  const sheetFindings = shallowRef<SheetFinding[]>([]);
  /** Whether the sheet as it stands now is still being checked. */
  const checking = ref(false);
  /** Why the sheet could not be checked; null where it was. */
  const uncheckable = ref<string | null>(null);
  /** Checks the newest sheet; while one is being checked only the newest waits. */
  async function check(): Promise<void> {
    if (checking.value) return;
    checking.value = true;
    for (let document = machine.document; ; document = machine.document) {
      try {
        sheetFindings.value = document && document.sequence.cues.length > 0 ? await aside.checkSheet(document) : [];
        uncheckable.value = null;
      } catch (error) {
        sheetFindings.value = [];
        uncheckable.value = (error as Error).message;
      }
      if (document === machine.document) break;
    }
    checking.value = false;
  }
  watch(
    () => [machine.document?.sequence, machine.document?.axes],
    () => void check(),
    { immediate: true },
  );
  const findings = computed<ShownFinding[]>(() => {
    const document = machine.document;
    if (!document) return [];
    const before = sheetFindings.value.map((finding): ShownFinding => ({
      severity: finding.severity,
      text: explainSheetFinding(finding, document),
      remedies:
        finding.code === 'not-led' && finding.axis !== undefined
          ? [
              {
                label: 'Let cues lead it',
                apply: () => void editMachine('cues lead the axis', (m) => letCuesLead(m, finding.axis!)),
              },
            ]
          : [],
    }));
    const order = { error: 0, warning: 1, info: 2 };
    const run = results.document && !results.stale ? (record.value?.findings ?? []) : [];
    const after = run
      .filter(
        ({ code, subjects }) =>
          code !== 'never' || !sheetFindings.value.some(({ cues }) => cues.includes(subjects[0] ?? '')),
      )
      .map((finding): ShownFinding => ({
        severity: finding.severity,
        text: explainCycleFinding(finding, document),
        time: finding.time ?? undefined,
      }));
    const failed: ShownFinding[] =
      uncheckable.value === null
        ? []
        : [{ severity: 'error', text: `The cue sheet could not be checked: ${uncheckable.value}`, remedies: [] }];
    return [...failed, ...before, ...after].sort((a, b) => order[a.severity] - order[b.severity]);
  });

  /** A variant held beside the present machine, and what came of it. */
  const beside = shallowRef<{ id: string; machine: Machine; record: CycleRecord } | null>(null);
  const besideBusy = ref(false);
  async function showBeside(id: string | null): Promise<void> {
    const variant = machine.document?.variants.find((v) => v.id === id);
    if (!variant || !machine.document) {
      beside.value = null;
      return;
    }
    besideBusy.value = true;
    try {
      const document = applyVariant(machine.document, variant);
      const result = await results.cycleOf(document);
      if (result.record) beside.value = { id: variant.id, machine: document, record: result.record };
    } finally {
      besideBusy.value = false;
    }
  }
  watch(
    () => machine.document,
    () => {
      if (beside.value) void showBeside(beside.value.id);
    },
  );

  return {
    chosen,
    sensorId,
    sequence,
    record,
    edit,
    editCue,
    editMachine,
    acted,
    cycleShown,
    chain,
    times,
    cycleTimes,
    findings,
    checking,
    beside,
    besideBusy,
    showBeside,
    cue: computed(() => sequence.value?.cues.find(({ id }) => id === chosen.value[0]) ?? null),
    sensor: computed(() => sequence.value?.sensors.find(({ id }) => id === sensorId.value) ?? null),
    /** Counts how often the editor of a cue was asked for. */
    opened,
    /** Chooses a cue and asks for its editor. */
    open: (id: string) => {
      chosen.value = [id];
      opened.value++;
    },
    choose: (id: string, more = false) => {
      if (!more) chosen.value = [id];
      else if (chosen.value.includes(id)) chosen.value = chosen.value.filter((c) => c !== id);
      else chosen.value = [...chosen.value, id];
    },
  };
});
