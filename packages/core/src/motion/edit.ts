import { lawAt, makeLaw } from '../law';
import {
  planDuration,
  planKnees,
  type KneeWish,
  type LawChoice,
  type MotionPlan,
  type MoveSegment,
  type Segment,
} from './plan';

/** Shortest segment an edit leaves behind, in s. */
export const SHORTEST_SEGMENT = 1e-3;

const withSegments = (plan: MotionPlan, segments: Segment[]): MotionPlan => ({ ...plan, segments });

/** Stroke of segment `index`; zero for a dwell. */
export function strokeOf(plan: MotionPlan, index: number): number {
  const knees = planKnees(plan);
  return knees[index + 1]!.position - knees[index]!.position;
}

/** Puts a segment before position `index`; what follows keeps its positions. */
export function insertSegment(plan: MotionPlan, index: number, segment: Segment): MotionPlan {
  return withSegments(plan, plan.segments.toSpliced(index, 0, segment));
}

/** Takes a segment out; what follows keeps its positions, so the next move starts from further back. */
export function deleteSegment(plan: MotionPlan, id: string): MotionPlan {
  return withSegments(
    plan,
    plan.segments.filter((segment) => segment.id !== id),
  );
}

/** Moves a segment to another place in the order. Strokes and times stay; positions follow from them. */
export function reorderSegment(plan: MotionPlan, from: number, to: number): MotionPlan {
  const strokes = plan.segments.map((_, i) => strokeOf(plan, i));
  const order = plan.segments.map((_, i) => i);
  const [taken] = order.splice(from, 1);
  order.splice(to, 0, taken!);
  let position = plan.start;
  return withSegments(
    plan,
    order.map((i) => {
      const segment = plan.segments[i]!;
      if (segment.kind === 'dwell') return segment;
      position += strokes[i]!;
      return { ...segment, to: position };
    }),
  );
}

/**
 * Splits a segment in two at a share of its time. A move is cut where it stands at that moment,
 * and both halves keep its law; `wait` s of dwell come between, taken from neither.
 */
export function splitSegment(plan: MotionPlan, id: string, newId: () => string, share = 0.5, wait = 0): MotionPlan {
  const index = plan.segments.findIndex((segment) => segment.id === id);
  const segment = plan.segments[index];
  if (!segment) return plan;
  const first = { ...segment, duration: segment.duration * share };
  const second = { ...segment, id: newId(), duration: segment.duration * (1 - share) };
  if (first.kind === 'move') {
    const start = planKnees(plan)[index]!.position;
    const law = makeLaw(first.law.id, first.law.parameters ?? {});
    first.to = start + (first.to - start) * lawAt(law, share)[0]!;
    delete first.knee;
  }
  const pause: Segment[] = wait > 0 ? [{ kind: 'dwell', id: newId(), duration: wait }] : [];
  return withSegments(plan, plan.segments.toSpliced(index, 1, first, ...pause, second));
}

/** The law that runs a move backwards in time: shares of acceleration and braking change places. */
export function reversedLaw(law: LawChoice): LawChoice {
  const { acceleration, deceleration, split, ...rest } = law.parameters ?? {};
  const parameters = {
    ...rest,
    ...(deceleration === undefined ? {} : { acceleration: deceleration }),
    ...(acceleration === undefined ? {} : { deceleration: acceleration }),
    ...(split === undefined ? {} : { split: 1 - split }),
  };
  return law.parameters ? { ...law, parameters } : law;
}

/** A knee run through backwards in time: the speed turns round, the acceleration stays. */
const reversedKnee = (knee: KneeWish | undefined): { knee?: KneeWish } =>
  knee ? { knee: { ...knee, velocity: knee.velocity === null ? null : -knee.velocity } } : {};

/** Adds, behind segments `first`…`last`, the same run backwards in time: the return of a forward stroke. */
export function mirrorSegments(plan: MotionPlan, first: number, last: number, newId: () => string): MotionPlan {
  const knees = planKnees(plan);
  const mirrored: Segment[] = [];
  for (let i = last; i >= first; i--) {
    const segment = plan.segments[i]!;
    mirrored.push(
      segment.kind === 'dwell'
        ? { ...segment, id: newId() }
        : {
            kind: 'move',
            id: newId(),
            duration: segment.duration,
            to: knees[i]!.position,
            law: reversedLaw(segment.law),
            ...reversedKnee(i === 0 ? plan.knee : (plan.segments[i - 1] as Partial<MoveSegment>).knee),
          },
    );
  }
  return withSegments(plan, plan.segments.toSpliced(last + 1, 0, ...mirrored));
}

/**
 * Drags a knee of the displacement line. In time it moves between its neighbours, which stay;
 * the last knee changes the length of the plan. In position it takes along the rests that touch it,
 * and the other end of the cycle where the plan was closed.
 */
export function dragKnee(plan: MotionPlan, knee: number, time: number, position: number): MotionPlan {
  const knees = planKnees(plan);
  const segments = [...plan.segments];
  if (knee > 0) {
    const from = knees[knee - 1]!.time;
    const until = knees[knee + 1]?.time ?? Infinity;
    const limited = Math.max(from + SHORTEST_SEGMENT, Math.min(until - SHORTEST_SEGMENT, time));
    segments[knee - 1] = { ...segments[knee - 1]!, duration: limited - from };
    if (segments[knee]) segments[knee] = { ...segments[knee]!, duration: until - limited };
  }
  return setKneePosition(withSegments(plan, segments), knee, position);
}

/** Sets the position of a knee, with the rests that touch it and the closed end of the cycle. */
export function setKneePosition(plan: MotionPlan, knee: number, position: number): MotionPlan {
  const segments = [...plan.segments];
  const closed = planKnees(plan).at(-1)!.position === plan.start;
  const arrival = (from: number) => {
    for (let i = from - 1; i >= 0; i--) if (segments[i]!.kind === 'move') return i;
    return -1;
  };
  const set = (index: number) => {
    segments[index] = { ...(segments[index] as MoveSegment), to: position };
  };
  const arriving = arrival(knee);
  const final = arrival(segments.length);
  const moveStart = arriving === -1 || (closed && arriving === final);
  if (arriving !== -1) set(arriving);
  if (arriving === -1 && closed && final !== -1) set(final);
  return { ...plan, start: moveStart ? position : plan.start, segments };
}

/** Sets the time of one segment in s; what follows moves along. */
export function setSegmentTime(plan: MotionPlan, id: string, duration: number): MotionPlan {
  return withSegments(
    plan,
    plan.segments.map((segment) => (segment.id === id ? { ...segment, duration } : segment)),
  );
}

/** Stretches or shrinks all segment times so that the plan fills the cycle. */
export function fitToCycle(plan: MotionPlan, cycleTime: number): MotionPlan {
  return scaleTimes(plan, cycleTime / planDuration(plan));
}

/** Moves the whole plan on in time by a share of its length, round the cycle: what runs out at the end comes in at the start. */
export function shiftPlan(plan: MotionPlan, by: number, newId: () => string): MotionPlan {
  const total = planDuration(plan);
  if (total <= 0) return plan;
  const share = ((by % total) + total) % total;
  if (share < 1e-12 * total) return plan;
  const cut = total - share;
  const knees = planKnees(plan);
  const advance = knees.at(-1)!.position - plan.start;
  let index = knees.findIndex(({ time }) => time >= cut - 1e-12 * total) - 1;
  let cutPlan = plan;
  if (Math.abs(knees[index + 1]!.time - cut) > 1e-9 * total) {
    // The cut falls inside a segment: a rest is parted; a move keeps its law, so it is begun whole instead.
    const segment = plan.segments[index]!;
    if (segment.kind === 'dwell')
      cutPlan = splitSegment(plan, segment.id, newId, (cut - knees[index]!.time) / segment.duration);
    else if (cut - knees[index]!.time < segment.duration / 2) index--;
  }
  const head = cutPlan.segments.slice(0, index + 1);
  const tail = cutPlan.segments.slice(index + 1);
  if (tail.length === 0 || head.length === 0) return plan;
  const newKnees = planKnees(cutPlan);
  const start = newKnees[index + 1]!.position - advance;
  const moved = (segments: readonly Segment[], by_: number) =>
    segments.map((segment) => (segment.kind === 'move' ? { ...segment, to: segment.to + by_ } : segment));
  const { knee } = head.at(-1) as Partial<MoveSegment>;
  const { knee: _old, ...rest } = cutPlan;
  return { ...rest, ...(knee ? { knee } : {}), start, segments: [...moved(tail, -advance), ...moved(head, 0)] };
}

/** The plan ends somewhere else: by its last move alone, its start and all before stay. */
export function endPlanAt(plan: MotionPlan, position: number): MotionPlan {
  const last = plan.segments.findLastIndex(({ kind }) => kind === 'move');
  return withSegments(
    plan,
    plan.segments.map((segment, i) => (i === last && segment.kind === 'move' ? { ...segment, to: position } : segment)),
  );
}

/** All positions stretched about the start by a factor; −1 turns the motion round. Knees in motion go with it. */
export function scalePlan(plan: MotionPlan, factor: number): MotionPlan {
  const place = (position: number) => plan.start + (position - plan.start) * factor;
  const wish = (knee: KneeWish | undefined): { knee?: KneeWish } =>
    knee
      ? {
          knee: {
            velocity: knee.velocity === null ? null : knee.velocity * factor,
            acceleration: knee.acceleration === null ? null : knee.acceleration * factor,
          },
        }
      : {};
  return {
    start: plan.start,
    ...wish(plan.knee),
    segments: plan.segments.map((segment) =>
      segment.kind === 'move' ? { ...segment, to: place(segment.to), ...wish(segment.knee) } : segment,
    ),
  };
}

/** All times stretched by a factor; speeds at knees fall with it, so that the line keeps its shape. */
export function scaleTimes(plan: MotionPlan, factor: number): MotionPlan {
  const wish = (knee: KneeWish | undefined): { knee?: KneeWish } =>
    knee
      ? {
          knee: {
            velocity: knee.velocity === null ? null : knee.velocity / factor,
            acceleration: knee.acceleration === null ? null : knee.acceleration / factor ** 2,
          },
        }
      : {};
  return {
    start: plan.start,
    ...wish(plan.knee),
    segments: plan.segments.map((segment) => ({
      ...segment,
      duration: segment.duration * factor,
      ...(segment.kind === 'move' ? wish(segment.knee) : {}),
    })),
  };
}

/** Sets what is wished for at a knee; undefined takes the wish away. The closed end of the cycle goes along. */
export function setKneeWish(plan: MotionPlan, knee: number, wish: KneeWish | undefined): MotionPlan {
  const count = plan.segments.length;
  const closed = count > 0 && planKnees(plan).at(-1)!.position === plan.start;
  const both = closed && (knee === 0 || knee === count);
  const { knee: first, ...rest } = plan;
  const atStart = knee === 0 || both ? wish : first;
  return {
    ...rest,
    ...(atStart ? { knee: atStart } : {}),
    segments: plan.segments.map((segment, i) => {
      if (segment.kind === 'dwell' || !(i + 1 === knee || (both && i + 1 === count))) return segment;
      const { knee: _old, ...bare } = segment;
      return wish ? { ...bare, knee: wish } : bare;
    }),
  };
}
