import {
  acrossPlanes,
  assemble,
  compileMechanism,
  copyOf,
  copyBodies,
  deleteThings,
  framePoses,
  FRONT,
  goesWith,
  nameIn,
  planeOf,
  prepareMechanism,
  ridersOf,
  setFramePoses,
  travelEnds,
  unitOf,
  worldOf,
  type LocalPlace,
  stillUsedBy,
  type Machine,
  type Mechanism,
  type MechanismModel,
  type Positions,
  type Pose,
} from '@yoke/core';
import { current, type Draft } from 'immer';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import type { Tool } from '@/lib/board-tools';
import type { View } from '@/lib/board-view';
import { sliceOf } from '@/lib/plane-slice';
import { useMachine } from './machine';

export type Colouring = 'axis' | 'body' | 'driven';

/** Writes assembled poses into a machine, so that what is drawn is what the joints say. Returns whether it could. */
function settle(machine: Machine): boolean {
  if (machine.mechanism.bodies.length === 0) return true;
  try {
    const model = compileMechanism(current(machine).mechanism);
    const { q, assembled } = assemble(model);
    if (!assembled) return false;
    framePoses(model.bodies, q).forEach((pose, i) => {
      const drawn = machine.mechanism.bodies[i]!.pose;
      const apart = Math.hypot(pose.x - drawn.x, pose.y - drawn.y) + Math.abs(pose.angle - drawn.angle);
      if (apart > 1e-10) machine.mechanism.bodies[i]!.pose = pose;
    });
    return true;
  } catch {
    // A half-drawn path is no reason to lose the edit; the findings say what is missing.
    return false;
  }
}

/** The drawing board of the mechanism: tool, selection, view, and the pose held by hand. */
export const useBoard = defineStore('board', () => {
  const machine = useMachine();
  const tool = ref<Tool>('choose');
  /** Identifiers of bodies, joints, couplings, elements and paths. */
  const selection = ref<string[]>([]);
  /** State held by hand; null while the start pose is shown. */
  const hand = shallowRef<Positions | null>(null);
  const view = ref<View | null>(null);
  const grid = ref(0.01);
  const snapping = ref(true);
  const colouring = ref<Colouring>('axis');
  /** What the last action came to, or why it could not be done. */
  const message = ref('');
  /** A point that a panel waits for: the next press on the board gives it. */
  const picking = shallowRef<{ asks: string; take(place: LocalPlace): void } | null>(null);
  /** A freedom whose small motion is shown as a ghost. */
  const ghost = ref<number | null>(null);
  /** Of the chosen path: the point taken hold of last, by its place among the handles, and the piece pointed at last. */
  const pathHandle = ref<number | null>(null);
  const pathPiece = ref<number | null>(null);

  const mechanism = computed<Mechanism | null>(() => machine.document?.mechanism ?? null);
  const chosenPlane = ref<string | null>(null);
  /** The plane that is drawn in. */
  const plane = computed(() => {
    const planes = mechanism.value?.planes ?? [];
    return (planes.find(({ id }) => id === chosenPlane.value) ?? planes[0])?.id ?? FRONT;
  });
  const slice = computed(() => (mechanism.value ? sliceOf(mechanism.value, plane.value) : null));
  /** Draws in another plane from here on; what is chosen stays chosen. */
  function showPlane(id: string): void {
    if (id === plane.value) return;
    chosenPlane.value = id;
    view.value = null;
  }
  const prepared = computed(() =>
    machine.document && machine.document.mechanism.bodies.length > 0 ? prepareMechanism(machine.document) : null,
  );
  const model = computed<MechanismModel | null>(() =>
    prepared.value && 'model' in prepared.value ? prepared.value.model : null,
  );
  /** Ends of travel that a body dragged by hand does not pass. */
  const ends = computed(() => (machine.document && model.value ? travelEnds(machine.document, model.value) : []));
  /** What is free, driven and said twice; null where it does not go together. */
  const mobility = computed(() => (prepared.value && 'mobility' in prepared.value ? prepared.value.mobility : null));
  const startPoses = computed<Pose[]>(() => mechanism.value?.bodies.map(({ pose }) => pose) ?? []);
  const poses = computed<Pose[]>(() =>
    hand.value && model.value ? framePoses(model.value.bodies, hand.value) : startPoses.value,
  );

  /** Poses of the bodies of the plane that is drawn in. */
  const slicePoses = computed<Pose[]>(() => slice.value?.bodies.map((i) => poses.value[i]!) ?? []);
  /** What is chosen, elsewhere than on the board, is shown in its plane. */
  function planeOfThing(id: string): string | null {
    const m = mechanism.value;
    if (m?.planes.some((own) => own.id === id)) return id;
    const body = m?.bodies.find((own) => own.id === id);
    if (body) return body.plane;
    const joint = m?.joints.find((own) => own.id === id);
    return joint && !acrossPlanes(joint) ? (planeOf(m!, joint.b) ?? null) : null;
  }

  watch(
    () => machine.document?.mechanism,
    () => {
      hand.value = null;
      ghost.value = null;
    },
  );
  watch([selection, tool], () => (pathHandle.value = pathPiece.value = null));
  watch(tool, () => (picking.value = null), { flush: 'sync' });
  watch(
    () => machine.id,
    () => {
      selection.value = [];
      chosenPlane.value = null;
      view.value = null;
      picking.value = null;
      tool.value = 'choose';
      message.value = '';
    },
  );

  /** Changes the drawing and brings it together again. */
  function draw(label: string, recipe: (draft: Draft<Machine>) => void, key?: string): string | null {
    const problem = machine.edit(
      label,
      (draft) => {
        recipe(draft);
        settle(draft as Machine);
      },
      key,
    );
    message.value = problem ?? '';
    return problem;
  }

  const names = (ids: Iterable<string>) => [...ids].map((id) => nameIn(machine.document!, id));

  /** What else goes when the selection is deleted, by name. */
  const hangsOn = computed(() => {
    if (!machine.document || selection.value.length === 0) return [];
    const all = goesWith(machine.document, selection.value);
    return names([...all].filter((id) => !selection.value.includes(id)));
  });

  function remove(): void {
    if (selection.value.length === 0) return;
    const chosen = names(selection.value).join(', ');
    const more = hangsOn.value;
    const users = stillUsedBy(machine.document!, selection.value);
    if (users.length > 0) {
      message.value = `Not deleted: ${users.join(', ')} ${users.length === 1 ? 'goes' : 'go'} by ${chosen}${more.length > 0 ? ` or what hangs on it` : ''}. Change or delete ${users.length === 1 ? 'that' : 'these'} first.`;
      return;
    }
    const problem = draw(`delete ${chosen}`, (draft) => deleteThings(draft as Machine, selection.value));
    if (problem !== null) {
      message.value = `Not deleted: ${problem}`;
      return;
    }
    selection.value = [];
    message.value = `Deleted ${chosen}${more.length > 0 ? `, and with it ${more.join(', ')}` : ''}. Undo brings all of it back.`;
  }

  /** Bodies of the selection, or of the whole unit they belong to. */
  function chosenBodies(unit: boolean): Set<string> {
    const bodies = selection.value.filter((id) => mechanism.value?.bodies.some((b) => b.id === id));
    return new Set(unit ? bodies.flatMap((id) => [...unitOf(mechanism.value!, id)]) : bodies);
  }

  /**
   * Copies what is chosen, or all of its unit.
   * @param mirrored turned round across the line upright through the middle of what is copied
   * @param into plane of the copy; that of the original where nothing is said
   */
  function copy(
    unit: boolean,
    shift: readonly [number, number],
    phase: number,
    { mirrored = false, into }: { mirrored?: boolean; into?: string | undefined } = {},
  ): void {
    const bodies = chosenBodies(unit);
    if (bodies.size === 0) {
      message.value = 'Choose a body to copy first.';
      return;
    }
    const m = mechanism.value!;
    const riders = ridersOf(m, bodies);
    const roots = m.bodies.filter(({ id }) => bodies.has(id) && !riders.has(id));
    const xs = roots.flatMap(({ id, points }) => points.map((p) => worldOf(m, { body: id, point: p.id })[0]));
    const mirror = mirrored ? (Math.min(...xs) + Math.max(...xs)) / 2 : undefined;
    const foreign = into !== undefined && new Set(roots.map(({ plane: of }) => of)).size > 1;
    if (foreign) {
      message.value = 'What is chosen lies in several planes: choose bodies of one to copy them onto another.';
      return;
    }
    let made: string[] = [];
    const problem = draw(
      'copy',
      (draft) => (made = copyBodies(draft as Machine, bodies, { shift, phase, mirror, plane: into })),
    );
    if (problem === null) {
      if (into !== undefined) showPlane(into);
      selection.value = made;
      message.value = `Copied ${bodies.size === 1 ? 'one body' : `${bodies.size} bodies`} with all that belongs to ${bodies.size === 1 ? 'it' : 'them'}.`;
    }
  }

  /** Makes the pose held by hand the start pose. */
  function keepPose(): void {
    const held = poses.value;
    draw('take this pose as start', (draft) => {
      draft.mechanism.bodies.forEach((body, i) => (body.pose = { ...held[i]! }));
    });
  }

  /** Puts bodies at poses and assembles from there, as for the other closure of a loop. */
  function placeBodies(label: string, wanted: ReadonlyMap<string, Pose>): string | null {
    return draw(label, (draft) => {
      for (const body of draft.mechanism.bodies) {
        const pose = wanted.get(body.id);
        if (pose) body.pose = pose;
      }
    });
  }

  /** The state of the poses shown, for computations that begin there. */
  function shownState(): Positions | null {
    if (!model.value) return null;
    const q = copyOf(hand.value ?? model.value.start);
    setFramePoses(model.value, poses.value, q);
    return q;
  }

  const select = (id: string | null, more = false) => {
    const there = id === null || more ? null : planeOfThing(id);
    if (there !== null) showPlane(there);
    if (id === null) selection.value = [];
    else if (!more) selection.value = [id];
    else
      selection.value = selection.value.includes(id)
        ? selection.value.filter((other) => other !== id)
        : [...selection.value, id];
  };

  return {
    tool,
    selection,
    hand,
    view,
    grid,
    snapping,
    colouring,
    message,
    picking,
    ends,
    ghost,
    pathHandle,
    pathPiece,
    mechanism,
    plane,
    slice,
    slicePoses,
    showPlane,
    prepared,
    mobility,
    model,
    poses,
    hangsOn,
    draw,
    remove,
    copy,
    keepPose,
    placeBodies,
    shownState,
    select,
  };
});
