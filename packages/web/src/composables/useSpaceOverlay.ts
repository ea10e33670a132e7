import { spaceOf, standingOf, wayInSpace, type Machine, type Pose, type Run } from '@yoke/core';
import { computed, type Ref } from 'vue';
import { resolvedColour } from '@/lib/axis-look';
import { indexOfPlace } from '@/lib/mechanism-run';
import type { SceneExtras } from '@/lib/space/scene';
import { useSeeing } from '@/stores/seeing';

type At = [number, number, number];
/** Longest arrow, as a share of the size of the machine. */
const REACH = 0.28;

/**
 * Ways of traced points and arrows of the forces at the cursor, in the world.
 * @param size a length typical of the machine, m
 */
export function useSpaceOverlay(
  machine: Readonly<Ref<Machine | null>>,
  run: Readonly<Ref<Run | null>>,
  poses: Readonly<Ref<readonly Pose[]>>,
  time: Readonly<Ref<number>>,
  size: Readonly<Ref<number>>,
) {
  const seeing = useSeeing();
  const traces = computed<At[][]>(() => {
    const own = machine.value?.mechanism;
    const ran = run.value?.mechanism;
    return own && ran ? own.traces.map((place) => wayInSpace(own, ran, place)) : [];
  });
  /** The largest force of the run, N: arrows are to one scale over all of it. */
  const most = computed(() => {
    const ran = run.value?.mechanism;
    if (!ran) return 0;
    let largest = 0;
    const vectors = [...ran.joints.map(({ reaction }) => [...reaction.force, reaction.across] as const), ...ran.elements.map(({ vector }) => vector)]; // prettier-ignore
    const step = Math.max(1, Math.floor(ran.reached / 60));
    for (const [x, y, z] of vectors)
      for (let k = 0; k < ran.reached; k += step)
        largest = Math.max(largest, Math.hypot(x![k]!, y![k]!, z ? z[k]! : 0) || 0);
    return largest;
  });
  const arrows = computed<SceneExtras['arrows']>(() => {
    const ran = run.value?.mechanism;
    const own = machine.value?.mechanism;
    if (!seeing.arrows || !ran || !own || !run.value || !(most.value > 0)) return [];
    const k = indexOfPlace(run.value, time.value);
    if (k >= ran.reached) return [];
    const standing = standingOf(own, poses.value);
    const scale = (REACH * size.value) / most.value;
    const colour = resolvedColour('--attention');
    const joints = own.joints.flatMap((joint) => {
      const { reaction } = ran.joints.find(({ id }) => id === joint.id) ?? {};
      if (!reaction) return [];
      const [fx, fy] = [reaction.force[0][k]!, reaction.force[1][k]!];
      const at = spaceOf(own, joint.b, standing);
      if (reaction.across) return [{ at, way: [fx * scale, fy * scale, reaction.across[k]! * scale] as At, colour }];
      const plane = own.bodies.find(({ id }) => id === joint.b.body)?.plane ?? own.planes[0]!.id;
      const { axes } = standing.plane(plane);
      const square = ran.bearings.find(({ id }) => id === joint.id)?.force[2][k] ?? 0;
      const way = [0, 3, 6].map((r) => scale * (axes[r]! * fx + axes[r + 1]! * fy + axes[r + 2]! * square)) as At;
      return [{ at, way, colour }];
    });
    const loads = own.elements.flatMap((element) => {
      if (element.kind !== 'force' || !element.on) return [];
      const { vector } = ran.elements.find(({ id }) => id === element.id) ?? {};
      if (!vector) return [];
      const way = vector.map((part) => scale * part[k]!) as At;
      return [{ at: spaceOf(own, element.at, standing), way, colour: resolvedColour('--ink') }];
    });
    return [...joints, ...loads];
  });
  return { traces, arrows, most };
}
