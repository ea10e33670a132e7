import { sha256 } from '@noble/hashes/sha2';
import { bytesToHex } from '@noble/hashes/utils';
import { runInput, type Machine, type StudyWishes, type StudyState } from '@yoke/core';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import type { ApiProblem } from '@/api/client';
import { api } from '@/api/client';
import { useMachine } from './machine';

/** Between two looks at a study that runs, ms. */
const REST = 400;

/** What a browser remembers of the study that was begun last for a machine; the server has the rest. */
interface Remembered {
  id: string;
  /** Of what the numbers of its runs go by. */
  of: string;
  wishes: StudyWishes;
}

const digest = (document: Machine) => bytesToHex(sha256(runInput(document)));
const keyOf = (machineId: string) => `yoke-study ${machineId}`;
function remembered(machineId: string): Remembered | null {
  try {
    return JSON.parse(localStorage.getItem(keyOf(machineId)) ?? 'null') as Remembered | null;
  } catch {
    return null;
  }
}

/** Many runs on the server for the open machine: begun, looked at until they are done, and found again after a reload. */
export const useStudy = defineStore('study', () => {
  const machine = useMachine();
  const study = shallowRef<StudyState | null>(null);
  const message = ref('');
  const wishes = ref<StudyWishes>({ runs: 100, seed: 1, sensorDelay: 0.01, friction: 0.1, torques: false });
  /** What the runs are of. */
  const of = ref('');
  let timer: ReturnType<typeof setTimeout> | undefined;

  /** Whether the machine has been changed since, so that the runs are not of what is there now. */
  const overtaken = computed(
    () => study.value !== null && machine.document !== null && of.value !== digest(machine.document),
  );

  async function look(id: string): Promise<void> {
    clearTimeout(timer);
    const current = () => id === study.value?.id || study.value === null;
    try {
      const next = await api.readStudy(id);
      if (!current()) return;
      study.value = next;
      message.value = next.problem === null ? '' : `The runs failed: ${next.problem}`;
      if (next.state === 'running') timer = setTimeout(() => void look(id), REST);
    } catch (error) {
      if (!current()) return;
      // Kept for some days only: one that is gone is as good as never begun.
      if (study.value === null && (error as ApiProblem).status === 404) return;
      message.value = (error as Error).message;
      if ((error as ApiProblem).status === 0) timer = setTimeout(() => void look(id), REST * 5);
    }
  }

  async function begin(): Promise<void> {
    const { document, id } = machine;
    if (!document || !id) return;
    message.value = '';
    try {
      const begun = await api.beginStudy(document, wishes.value);
      const known: Remembered = { id: begun.id, of: digest(document), wishes: wishes.value };
      localStorage.setItem(keyOf(id), JSON.stringify(known));
      if (machine.id !== id) return;
      study.value = begun;
      of.value = known.of;
      await look(begun.id);
    } catch (error) {
      message.value = (error as Error).message;
    }
  }

  async function cancel(): Promise<void> {
    if (!study.value) return;
    const { id } = study.value;
    try {
      await api.cancelStudy(id);
      await look(id);
    } catch (error) {
      message.value = (error as Error).message;
    }
  }

  watch(
    () => machine.id,
    (id) => {
      clearTimeout(timer);
      study.value = null;
      message.value = '';
      const known = id === null ? null : remembered(id);
      if (!known) return;
      of.value = known.of;
      wishes.value = known.wishes;
      void look(known.id);
    },
    { immediate: true },
  );

  return { study, message, wishes, overtaken, begin, cancel };
});
