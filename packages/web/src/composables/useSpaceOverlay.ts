import { acrossPlanes, formatQuantity, GROUND, posesAt, spaceOf, spaceSamples, standingOf, wayInSpace, type Joint, type Machine, type MechanismRun, type Pose, type Run, type Standing } from '@yoke/core'; // prettier-ignore
import { computed, type Ref } from 'vue';
import { resolvedColour } from '@/lib/axis-look';
import { indexOfPlace } from '@/lib/mechanism-run';
import type { SceneArrow } from '@/lib/space/arrows';
import { useSeeing } from '@/stores/seeing';

type At = [number, number, number];
type Vector = readonly (Float64Array | null | undefined)[];
/** Longest arrow of a kind, as a share of the size of the machine. */
const REACH = 0.28;
/** Speeds that are drawn along each trace. */
const SPEEDS = 24;

/** The largest magnitude of vectors over a run. */
function largest(vectors: readonly Vector[], reached: number): number {
  let most = 0;
  const step = Math.max(1, Math.floor(reached / 60));
  for (const [x, y, z] of vectors)
    for (let k = 0; k < reached; k += step)
      most = Math.max(most, Math.hypot(x?.[k] ?? 0, y?.[k] ?? 0, z?.[k] ?? 0) || 0);
  return most;
}

const along = (columns: readonly (readonly number[])[], parts: readonly number[], scale: number): At =>
  [0, 1, 2].map((row) => scale * columns.reduce((sum, column, k) => sum + column[row]! * parts[k]!, 0)) as At;

/**
 * What is laid over a machine in depth: ways of traced points, arrows of forces, moments and velocities to one scale
 * each over the whole run, and poses along the cycle.
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
  const ran = computed<MechanismRun | null>(() => run.value?.mechanism ?? null);
  const own = computed(() => machine.value?.mechanism ?? null);
  const traces = computed<At[][]>(() => {
    const [mechanism, found] = [own.value, ran.value];
    return mechanism && found ? mechanism.traces.map((place) => wayInSpace(mechanism, found, place)) : [];
  });
  const mostForce = computed(() =>
    ran.value
      ? largest([...ran.value.joints.map(({ reaction }) => [...reaction.force, reaction.across]), ...ran.value.elements.map(({ vector }) => vector)], ran.value.reached) // prettier-ignore
      : 0,
  );
  const mostMoment = computed(
    () =>
    ran.value ? largest(ran.value.bearings.map(({ moment }) => moment), ran.value.reached) : 0, // prettier-ignore
  );
  /** The sample that is shown; null where the run did not get so far. */
  const sample = computed(() => {
    if (!run.value || !ran.value) return null;
    const k = indexOfPlace(run.value, time.value);
    return k < ran.value.reached ? k : null;
  });

  /** Directions in which the loads of a joint are told: along and across its rail, or x and y of its plane, and square. */
  function frameOf(joint: Joint, standing: Standing): At[] | null {
    const mechanism = own.value!;
    if (acrossPlanes(joint)) return null;
    const plane = mechanism.bodies.find(({ id }) => id === joint.b.body)?.plane ?? mechanism.planes[0]!.id;
    const { axes } = standing.plane(plane);
    const [x, y, n] = ([0, 1, 2] as const).map((k) => [axes[k]!, axes[k + 3]!, axes[k + 6]!] as At) as [At, At, At];
    if (joint.kind !== 'slide' && joint.kind !== 'slot') return [x, y, n];
    const carrier = joint.a.body;
    const turned = carrier === GROUND ? axes : standing.body(carrier).axes;
    const [c, s] = [Math.cos(joint.angle), Math.sin(joint.angle)];
    const rail = [0, 3, 6].map((r) => turned[r]! * c + turned[r + 1]! * s) as At;
    const across: At = [n[1] * rail[2] - n[2] * rail[1], n[2] * rail[0] - n[0] * rail[2], n[0] * rail[1] - n[1] * rail[0]]; // prettier-ignore
    return [rail, across, n];
  }

  const forces = computed<SceneArrow[]>(() => {
    const [mechanism, found, k] = [own.value, ran.value, sample.value];
    if (!seeing.arrows || !mechanism || !found || k === null || !(mostForce.value > 0)) return [];
    const standing = standingOf(mechanism, poses.value);
    const scale = (REACH * size.value) / mostForce.value;
    const colour = resolvedColour('--attention');
    const joints = mechanism.joints.flatMap((joint): SceneArrow[] => {
      const { reaction } = found.joints.find(({ id }) => id === joint.id) ?? {};
      if (!reaction) return [];
      const [fx, fy] = [reaction.force[0][k]!, reaction.force[1][k]!];
      const at = spaceOf(mechanism, joint.b, standing);
      if (reaction.across) return [{ at, way: [fx * scale, fy * scale, reaction.across[k]! * scale] as At, colour }];
      const plane = mechanism.bodies.find(({ id }) => id === joint.b.body)?.plane ?? mechanism.planes[0]!.id;
      const { axes } = standing.plane(plane);
      const square = found.bearings.find(({ id }) => id === joint.id)?.force[2][k] ?? 0;
      const columns = ([0, 1, 2] as const).map((c) => [axes[c]!, axes[c + 3]!, axes[c + 6]!]);
      return [{ at, way: along(columns, [fx, fy, square], scale), colour }];
    });
    const loads = mechanism.elements.flatMap((element): SceneArrow[] => {
      if (element.kind !== 'force' || !element.on) return [];
      const { vector } = found.elements.find(({ id }) => id === element.id) ?? {};
      if (!vector) return [];
      const way = vector.map((part) => scale * part[k]!) as At;
      return [{ at: spaceOf(mechanism, element.at, standing), way, colour: resolvedColour('--ink') }];
    });
    return [...joints, ...loads];
  });

  const moments = computed<SceneArrow[]>(() => {
    const [mechanism, found, k] = [own.value, ran.value, sample.value];
    if (!seeing.moments || !mechanism || !found || k === null || !(mostMoment.value > 0)) return [];
    const standing = standingOf(mechanism, poses.value);
    const scale = (REACH * size.value) / mostMoment.value;
    return found.bearings.flatMap(({ id, moment }): SceneArrow[] => {
      const joint = mechanism.joints.find((other) => other.id === id);
      const frame = joint && frameOf(joint, standing);
      if (!frame) return [];
      const parts = moment.map((part) => part[k]!);
      return [{ at: spaceOf(mechanism, joint.b, standing), way: along(frame, parts, scale), colour: resolvedColour('--primary'), turns: true }]; // prettier-ignore
    });
  });

  const speeds = computed(() => {
    const [mechanism, found] = [own.value, ran.value];
    if (!seeing.velocities || !mechanism || !found || !run.value) return { list: [] as SceneArrow[], most: 0 };
    const count = run.value.times.length;
    const taken = mechanism.traces.flatMap((place) => {
      const [x, y, z, vx, vy, vz] = ['x', 'y', 'z', 'vx', 'vy', 'vz'].map((q) => spaceSamples(mechanism, found, place, q, count)); // prettier-ignore
      if (!x || !y || !z || !vx || !vy || !vz) return [];
      return Array.from({ length: SPEEDS }, (_, i) => {
        const k = Math.floor(((found.reached - 1) * i) / SPEEDS);
        return { at: [x[k]!, y[k]!, z[k]!] as At, v: [vx[k]!, vy[k]!, vz[k]!] as At };
      });
    });
    const most = Math.max(1e-12, ...taken.map(({ v }) => Math.hypot(...v)));
    const scale = (REACH * size.value) / most / 1.5;
    const colour = resolvedColour('--ink-soft');
    const list = taken.map(({ at, v }) => ({ at, way: v.map((part) => part * scale) as At, colour }));
    return { list, most: taken.length > 0 ? most : 0 };
  });

  /** Poses along the cycle, as many as are wished. */
  const ghosts = computed<Pose[][]>(() =>
    run.value && seeing.ghosts > 0
      ? Array.from({ length: seeing.ghosts }, (_, i) => posesAt(run.value!, (run.value!.cycleTime * i) / seeing.ghosts))
      : [],
  );

  /** What the longest arrow of each kind that is shown stands for. */
  const scales = computed(() => {
    const units = machine.value?.units ?? 'metric';
    const told: { text: string; colour: string }[] = [];
    if (forces.value.length > 0)
      told.push({ text: `${formatQuantity(mostForce.value, 'force', units, 3)} on the second body of each joint`, colour: '--attention' }); // prettier-ignore
    if (moments.value.length > 0)
      told.push({ text: `${formatQuantity(mostMoment.value, 'torque', units, 3)} of rails and shafts, right-handed`, colour: '--primary' }); // prettier-ignore
    if (speeds.value.list.length > 0)
      told.push({ text: `${formatQuantity(speeds.value.most, 'velocity', units, 3)} of traced points`, colour: '--ink-soft' }); // prettier-ignore
    return told;
  });
  const arrows = computed<SceneArrow[]>(() => [...speeds.value.list, ...forces.value, ...moments.value]);
  return { traces, arrows, ghosts, scales };
}
