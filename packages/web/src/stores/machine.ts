import {
  cycleThatFits,
  cycleTime,
  describeProblems,
  problemsInWords,
  readMachine,
  type Axis,
  type Machine,
} from '@yoke/core';
import { applyPatches, enablePatches, Immer, setAutoFreeze, type Draft, type Patch } from 'immer';
import { defineStore } from 'pinia';
import { useEventListener } from '@vueuse/core';
import { computed, ref, shallowRef } from 'vue';
import { api, ApiProblem } from '@/api/client';
import { dropDraft, findDraft, type FoundDraft } from '@/lib/drafts';
import { findHistory, keepHistory, type Step } from '@/lib/history';
import { usePreferences } from './preferences';
import { useSaving } from './saving';

enablePatches();
setAutoFreeze(true);
/** Finds out what an edit changes, without freezing what it puts in: that belongs to whoever edits. */
const recorder = new Immer({ autoFreeze: false });

/**
 * What was put into the document, as plain data: an object that Vue watches would reach the worker, which cannot take
 * it, and be changed from outside later.
 */
const plain = (patch: Patch): Patch =>
  typeof patch.value === 'object' && patch.value !== null
    ? { ...patch, value: JSON.parse(JSON.stringify(patch.value)) as unknown }
    : patch;

/** Whether the document is there to be worked on. */
export type LoadState =
  { kind: 'none' } | { kind: 'loading' } | { kind: 'ready' } | { kind: 'failed'; message: string };

/** Steps that can be undone. */
const MOST_STEPS = 300;

/** The machine that is open: its document, how it came to be (undo, redo), and its saving. */
export const useMachine = defineStore('machine', () => {
  const id = ref<string | null>(null);
  const document = shallowRef<Machine | null>(null);
  const load = ref<LoadState>({ kind: 'none' });
  const undoSteps = shallowRef<readonly Step[]>([]);
  const redoSteps = shallowRef<readonly Step[]>([]);
  const selectedAxisId = ref<string | null>(null);
  const saving = useSaving(id, document);
  /** Changes that were not saved when their window ended, offered to be taken back; null for none. */
  const draft = shallowRef<(FoundDraft & { overtaken: boolean }) | null>(null);

  const preferences = usePreferences();
  const cycle = computed(() => (document.value ? cycleTime(document.value) : 1));
  const units = computed(() => document.value?.units ?? 'metric');
  const axes = computed(() => document.value?.axes ?? []);
  const axis = computed<Axis | null>(
    () => axes.value.find((a) => a.id === selectedAxisId.value) ?? axes.value[0] ?? null,
  );

  /** Takes a document with the history that this window kept of it, if any. */
  function take(machine: Machine): void {
    document.value = machine;
    const before = id.value ? findHistory(id.value, machine) : null;
    undoSteps.value = before?.undo ?? [];
    redoSteps.value = before?.redo ?? [];
  }
  function remember(): void {
    if (id.value && document.value) keepHistory(id.value, document.value, { undo: undoSteps.value, redo: redoSteps.value }); // prettier-ignore
  }
  useEventListener('pagehide', remember);

  /** Counts up with every opening and closing: one that waited for a save gives way to a later one. */
  let visit = 0;

  async function open(machineId: string): Promise<void> {
    const mine = ++visit;
    if (id.value === machineId && load.value.kind === 'ready') return;
    await leave(mine);
    if (mine !== visit) return;
    id.value = machineId;
    await reload();
  }

  /** Offers what a window that ended had not saved; what the server has all the same is forgotten. */
  async function offerDraft(machineId: string, revision: number): Promise<void> {
    const found = await findDraft(machineId);
    if (!found || id.value !== machineId || !document.value) return;
    const checked = readMachine(found.document);
    if (!checked.ok || JSON.stringify(checked.machine) === JSON.stringify(document.value)) {
      await dropDraft(machineId, found.key);
      return;
    }
    draft.value = { ...found, document: checked.machine, overtaken: found.revision !== revision };
  }

  /** Makes the changes that were offered; undo takes them away again. */
  async function takeDraft(): Promise<void> {
    const offered = draft.value;
    if (!offered) return;
    draft.value = null;
    edit('take back unsaved changes', (next) => void Object.assign(next, offered.document));
    // What was done before the window ended is done step by step again.
    const before = findHistory(offered.machineId, offered.document);
    if (before) [undoSteps.value, redoSteps.value] = [before.undo, before.redo];
    await saving.flush();
    if (saving.state.value.kind === 'saved') await dropDraft(offered.machineId, offered.key);
  }

  async function forgetDraft(): Promise<void> {
    const offered = draft.value;
    draft.value = null;
    if (offered) await dropDraft(offered.machineId, offered.key);
  }

  /** Gives up what this window has not saved, for what the server has. */
  async function takeTheirs(): Promise<void> {
    if (id.value) await dropDraft(id.value);
    await reload();
  }

  /** Reads the document anew from the server; what was not saved is given up. */
  async function reload(): Promise<void> {
    const wanted = id.value;
    if (!wanted) return;
    if (!document.value) load.value = { kind: 'loading' };
    try {
      const { machine, revision } = await api.readMachine(wanted);
      if (id.value !== wanted) return;
      const checked = readMachine(machine);
      if (!checked.ok) throw new ApiProblem(422, describeProblems(checked.problems));
      take(checked.machine);
      saving.begin(revision);
      load.value = { kind: 'ready' };
      await offerDraft(wanted, revision);
    } catch (error) {
      load.value = { kind: 'failed', message: (error as Error).message };
    }
  }

  const close = (): Promise<void> => leave(++visit);

  async function leave(mine: number): Promise<void> {
    await saving.flush();
    if (mine !== visit) return;
    remember();
    saving.end();
    id.value = null;
    draft.value = null;
    document.value = null;
    undoSteps.value = [];
    redoSteps.value = [];
    selectedAxisId.value = null;
    load.value = { kind: 'none' };
  }

  /**
   * Changes the document. A change that would make it invalid is not made.
   * @param label what undo will call it
   * @param key joins it with the step before of the same key
   * @returns a sentence that says what is wrong, or null where the change was made
   */
  function edit(label: string, recipe: (draft: Draft<Machine>) => void, key?: string): string | null {
    if (!document.value) return 'No machine is open.';
    const [, changes, back] = recorder.produceWithPatches(document.value, (draft) => {
      recipe(draft);
      if (preferences.cycleFollows) draft.cycle = cycleThatFits(draft as Machine);
    });
    if (changes.length === 0) return null;
    const forward = changes.map(plain);
    const next = applyPatches(document.value, forward);
    const checked = readMachine(next);
    if (!checked.ok) return problemsInWords(checked.problems, next);
    document.value = next;
    const last = undoSteps.value.at(-1);
    const joined = key !== undefined && last?.key === key;
    const step = joined
      ? { label, key, forward: [...last.forward, ...forward], back: [...back, ...last.back] }
      : { label, key, forward, back };
    undoSteps.value = [...(joined ? undoSteps.value.slice(0, -1) : undoSteps.value), step].slice(-MOST_STEPS);
    redoSteps.value = [];
    saving.changed();
    return null;
  }

  /** Changes the selected axis, as {@link edit}. */
  function editAxis(label: string, recipe: (draft: Draft<Axis>) => void, key?: string): string | null {
    const wanted = axis.value?.id;
    return edit(
      label,
      (draft) => {
        const found = draft.axes.find((a) => a.id === wanted);
        if (found) recipe(found);
      },
      key,
    );
  }

  function undo(): void {
    const step = undoSteps.value.at(-1);
    if (!step || !document.value) return;
    document.value = applyPatches(document.value, step.back);
    undoSteps.value = undoSteps.value.slice(0, -1);
    redoSteps.value = [...redoSteps.value, { ...step, key: undefined }];
    saving.changed();
  }

  function redo(): void {
    const step = redoSteps.value.at(-1);
    if (!step || !document.value) return;
    document.value = applyPatches(document.value, step.forward);
    redoSteps.value = redoSteps.value.slice(0, -1);
    undoSteps.value = [...undoSteps.value, step];
    saving.changed();
  }

  saving.onNewer(() => void reload());

  return {
    id,
    document,
    load,
    selectedAxisId,
    cycle,
    units,
    axes,
    axis,
    undoLabel: computed(() => undoSteps.value.at(-1)?.label ?? null),
    redoLabel: computed(() => redoSteps.value.at(-1)?.label ?? null),
    saveState: saving.state,
    open,
    reload,
    draft,
    takeDraft,
    forgetDraft,
    takeTheirs,
    close,
    edit,
    editAxis,
    undo,
    redo,
    saveNow: saving.flush,
    overwrite: saving.overwrite,
    forgetSaving: saving.end,
  };
});
