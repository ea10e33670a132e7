import type { MachineSummary } from '@yoke/core';
import { ElMessage } from 'element-plus';
import { h, ref } from 'vue';
import { api } from '@/api/client';

/** The machines of the server: read page by page, copied, deleted and brought back. */
export function useMachineList() {
  const machines = ref<MachineSummary[]>([]);
  /** Whether the server has more machines than are shown. */
  const more = ref(false);
  /** Deleted machines, once asked for. */
  const deleted = ref<MachineSummary[] | null>(null);
  const state = ref<'loading' | 'ready' | 'failed'>('loading');
  const failure = ref('');
  const trouble = ref<string | null>(null);

  /** Runs a request; what goes wrong is said above the list. */
  async function attempt(action: () => Promise<void>): Promise<void> {
    trouble.value = null;
    try {
      await action();
    } catch (error) {
      trouble.value = (error as Error).message;
    }
  }

  async function refresh(): Promise<void> {
    try {
      const page = await api.listMachines();
      machines.value = page.machines;
      more.value = page.more;
      if (deleted.value) deleted.value = (await api.listMachines({ deleted: true })).machines;
      state.value = 'ready';
    } catch (error) {
      failure.value = (error as Error).message;
      state.value = 'failed';
    }
  }
  const showMore = () =>
    attempt(async () => {
      const page = await api.listMachines({ offset: machines.value.length });
      const known = new Set(machines.value.map(({ id }) => id));
      machines.value = [...machines.value, ...page.machines.filter(({ id }) => !known.has(id))];
      more.value = page.more;
    });
  const toggleDeleted = () =>
    attempt(async () => {
      deleted.value = deleted.value ? null : (await api.listMachines({ deleted: true })).machines;
    });
  const restore = (id: string) =>
    attempt(async () => {
      await api.restoreMachine(id);
      await refresh();
    });

  const duplicate = (id: string) =>
    attempt(async () => {
      await api.duplicateMachine(id);
      await refresh();
    });

  const remove = (machine: MachineSummary) =>
    attempt(async () => {
      await api.deleteMachine(machine.id, machine.revision);
      machines.value = machines.value.filter(({ id }) => id !== machine.id);
      if (deleted.value) deleted.value = (await api.listMachines({ deleted: true })).machines;
      const undo = () =>
        attempt(async () => {
          await api.restoreMachine(machine.id);
          note.close();
          await refresh();
        });
      const note = ElMessage({
        duration: 12_000,
        message: h('span', [
          `“${machine.name}” is deleted; it can be restored for 30 days. `,
          h('button', { class: 'plain undo', type: 'button', onClick: undo }, 'Undo'),
        ]),
      });
    });

  return { machines, more, deleted, state, failure, trouble, attempt, refresh, showMore, toggleDeleted, restore, duplicate, remove }; // prettier-ignore
}
