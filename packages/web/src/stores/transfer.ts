import {
  AXIS_KINDS,
  AxisPoses,
  cuesMoving,
  hushCues,
  displayUnit,
  freeId,
  framePoses,
  keepAsCues,
  keepAsPlans,
  likelyTool,
  placesOf,
  planTransfer,
  removeCue,
  usersOf,
  type AxisPlaces,
  type CueWishes,
  type Machine,
  type MarkedPose,
  type Place,
  type Positions,
  type Pose,
  type Transfer,
  type TransferWish,
} from '@yoke/core';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import { useMachine } from './machine';

type Settings = Omit<TransferWish, 'from' | 'to'> & CueWishes & { hush: boolean };

const begin = (): Settings => ({
  clear: 0,
  overlap: 0.2,
  law: { id: 'modifiedSine' },
  time: null,
  back: true,
  stay: 0.2,
  steps: {},
  others: 'stand',
  when: null,
  gripper: null,
  hush: true,
});

/** Poses that were marked, the one that is looked at or held by hand, and the way from one to another. */
export const useTransfer = defineStore('transfer', () => {
  const machine = useMachine();
  const marks = computed<readonly MarkedPose[]>(() => machine.document?.poses ?? []);
  const chosen = ref<string | null>(null);
  /** State held by hand; null while the chosen pose, or the machine as it is drawn, is shown. */
  const held = shallowRef<Positions | null>(null);
  const ends = ref<{ from: string | null; to: string | null }>({ from: null, to: null });
  const settings = ref<Settings>(begin());
  const message = ref('');
  /** What was written last. */
  const written = ref('');

  const poses = computed<AxisPoses | string>(() =>
    machine.document ? AxisPoses.of(machine.document) : 'No machine is open.',
  );
  const solver = computed(() => (typeof poses.value === 'string' ? null : poses.value));
  const mark = computed(() => marks.value.find(({ id }) => id === chosen.value) ?? null);
  /** Where the axes stand in what is shown. */
  const places = computed<AxisPlaces>(() => {
    if (!solver.value) return new Map();
    if (held.value) return solver.value.placesIn(held.value);
    return mark.value ? placesOf(mark.value, solver.value.drawnPlaces) : solver.value.drawnPlaces;
  });
  /** The state that is shown, and whether the mechanism gets there. */
  const state = computed(() => solver.value?.stateAt(places.value) ?? null);
  const shown = computed<Pose[]>(() => {
    const q = held.value ?? state.value?.q;
    return solver.value && q ? framePoses(solver.value.model.bodies, q) : [];
  });
  const posesOf = (own: MarkedPose): Pose[] | null => {
    if (!solver.value) return null;
    const { q } = solver.value.stateAt(placesOf(own, solver.value.drawnPlaces));
    return framePoses(solver.value.model.bodies, q);
  };
  const tool = computed<Place | null>(
    () => mark.value?.tool ?? marks.value.at(-1)?.tool ?? (machine.document ? likelyTool(machine.document) : null),
  );
  const toolPlace = computed(() =>
    tool.value && solver.value ? solver.value.placeOf(tool.value, places.value) : null,
  );

  watch(
    () => machine.id,
    () => {
      chosen.value = held.value = null;
      ends.value = { from: null, to: null };
      settings.value = begin();
      message.value = '';
      mine = [];
    },
  );
  // After a reload the way is between the first two poses again, until something else is chosen.
  watch(
    () => [machine.id, marks.value.length] as const,
    () => {
      const { from: begins, to: stops } = ends.value;
      if (begins === null && stops === null && marks.value.length > 1)
        ends.value = { from: marks.value[0]!.id, to: marks.value[1]!.id };
    },
    { immediate: true, flush: 'post' },
  );
  // What is held belongs to the drawing that it was held in.
  watch(
    () => machine.document?.mechanism,
    () => (held.value = null),
  );

  /** Positions of a pose, rounded to what one would type: thousandths of the unit shown. */
  const at = (own: AxisPlaces, exact = false): MarkedPose['at'] =>
    machine.axes.flatMap(({ id, kind }) => {
      const place = own.get(id);
      if (place === undefined) return [];
      const { factor } = displayUnit(AXIS_KINDS[kind].position, machine.units);
      return [{ axis: id, position: exact ? place : (Math.round((1000 * place) / factor) * factor) / 1000 }];
    });
  const change = (label: string, id: string, recipe: (pose: MarkedPose) => void) =>
    machine.edit(label, (draft) => {
      const found = draft.poses?.find((own) => own.id === id);
      if (found) recipe(found as MarkedPose);
    });

  /**
   * Marks what is shown as a pose of its own.
   * @param as the end of the way that it shall be
   */
  function add(as: 'from' | 'to' | null): void {
    const id = freeId('pose', marks.value.map((own) => own.id)); // prettier-ignore
    const taken = marks.value.map(({ name }) => name);
    const wanted = as === 'from' ? 'Start' : as === 'to' ? 'Target' : 'Pose 1';
    const name = taken.includes(wanted) ? freeId(`${wanted.replace(/ 1$/, '')} `, taken) : wanted;
    const fresh: MarkedPose = { id, name, tool: tool.value, at: at(places.value) };
    const problem = machine.edit('mark a pose', (draft) => void (draft.poses = [...(draft.poses ?? []), fresh]));
    if (problem) return;
    if (as) ends.value = { ...ends.value, [as]: id };
    held.value = null;
    chosen.value = id;
    message.value = `“${name}” is marked.`;
  }
  /** Puts a marked pose where the machine is held. */
  function moveHere(): void {
    if (!mark.value || !held.value) return;
    const own = at(places.value);
    change('move a pose', mark.value.id, (pose) => void (pose.at = own));
    held.value = null;
  }
  function remove(id: string): void {
    machine.edit('delete a pose', (draft) => void (draft.poses = draft.poses?.filter((own) => own.id !== id)));
    if (chosen.value === id) chosen.value = null;
  }
  const rename = (id: string, name: string) => change('rename', id, (pose) => void (pose.name = name));
  const setTool = (id: string, place: Place | null) => change('tool point', id, (pose) => void (pose.tool = place));
  /** Puts an axis of the chosen pose elsewhere; what is wrong with it, or null. */
  function setAxis(axis: string, position: number): string | null {
    const own = mark.value;
    if (!own || !solver.value) return 'Choose a pose first.';
    const { travel } = machine.axes.find(({ id }) => id === axis)!;
    if (travel && (position < travel.min - 1e-9 || position > travel.max + 1e-9))
      return 'Outside the travel of this axis.';
    const next = new Map(places.value).set(axis, position);
    if (solver.value.stateAt(next).share < 1) return 'The mechanism does not get there.';
    return change('position of a pose', own.id, (pose) => void (pose.at = at(next, true)));
  }
  /** Brings the tool of the chosen pose to a place; what is wrong with it, or null. */
  function setPlace(place: readonly [number, number, number]): string | null {
    const own = mark.value;
    if (!own || !solver.value || !tool.value) return 'Choose a pose and its tool point first.';
    const found = solver.value.reach(places.value, tool.value, place);
    if (found.problem) return found.problem;
    message.value = found.kept ? '' : 'There it cannot keep its direction: it turns along.';
    return change('place of a pose', own.id, (pose) => void (pose.at = at(found.places, true)));
  }
  const choose = (id: string | null): void => {
    chosen.value = id;
    held.value = null;
  };

  const endOf = (which: 'from' | 'to') => marks.value.find(({ id }) => id === ends.value[which]) ?? null;
  const from = computed(() => endOf('from'));
  const to = computed(() => endOf('to'));
  const transfer = computed<Transfer | null>(() =>
    machine.document && from.value && to.value
      ? planTransfer(machine.document, { from: from.value, to: to.value, ...settings.value })
      : null,
  );
  /** Cues that move its axes already. */
  const rivals = computed(() =>
    machine.document && transfer.value ? cuesMoving(machine.document, transfer.value, settings.value.others) : [],
  );
  /** Names of the cues that were written last: written anew, they take the place of these. */
  let mine: string[] = [];
  /** The sheet without cues of some names; what others still speak of stays. */
  function without(sequence: Machine['sequence'], names: readonly string[]): Machine['sequence'] {
    const own = sequence.cues.filter(({ name }) => names.includes(name));
    const free = own.every(({ id }) => usersOf(sequence, id).every((user) => names.includes(user)));
    return free ? own.reduce((left, { id }) => removeCue(left, id), sequence) : sequence;
  }
  /** Writes the way as plans of the axes, or as cues. */
  function write(as: 'plans' | 'cues'): void {
    const found = transfer.value;
    if (!found || found.moves.length === 0) return;
    let said = '';
    const { others, when, gripper, hush } = settings.value;
    const problem = machine.edit(as === 'plans' ? 'a transfer as plans' : 'a transfer as cues', (draft) => {
      if (hush) hushCues(draft as Machine, found, others);
      if (as === 'plans') {
        const { axes, cycle } = keepAsPlans(draft as Machine, found, others);
        said = `${axes.join(', ')} ${axes.length === 1 ? 'has' : 'have'} it in ${axes.length === 1 ? 'its plan' : 'their plans'}.${cycle === null ? '' : ` The cycle now takes ${Number(cycle.toPrecision(4))} s.`}`;
        return;
      }
      const plain = JSON.parse(JSON.stringify(draft)) as Machine;
      if (hush) plain.sequence = without(plain.sequence, mine);
      const made = keepAsCues(plain, found, { others, when, gripper });
      mine = made.cues;
      Object.assign(draft, { axes: made.machine.axes, sequence: made.machine.sequence });
      said = `${made.cues.length} cues are written, from “${made.cues[0]}” on.`;
    });
    written.value = problem ?? said;
  }
  watch([settings, ends, () => machine.id], () => (written.value = ''));

  return {
    marks,
    chosen,
    mark,
    held,
    ends,
    settings,
    message,
    written,
    rivals,
    poses,
    solver,
    places,
    state,
    shown,
    posesOf,
    tool,
    toolPlace,
    from,
    to,
    transfer,
    add,
    moveHere,
    remove,
    rename,
    setTool,
    setAxis,
    setPlace,
    choose,
    write,
  };
});
