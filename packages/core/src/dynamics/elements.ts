import { gravityOf, hasPosition, planeOf, type Element } from '../machine';
import {
  armX,
  armY,
  type Attachment,
  type BodyLoads,
  type Coordinate,
  type MechanismModel,
  type Positions,
  type Rates,
} from '../mechanism';
import { courseValue, placeInCycle } from './course';
import {
  flatPull,
  setVector,
  spaceForce,
  spaceGravity,
  spaceSpring,
  spaceTorque,
  spaceWrench,
  toWorld,
} from './space-efforts';
import type { SwitchSchedule } from './switching';
import type { WrenchSchedule } from './wrench';

/** State in which efforts are evaluated. */
export interface EffortState {
  q: Positions;
  v: Rates;
  time: number;
  /** Accelerations where they are known already: then efforts that go by them tell what they did. */
  a?: Rates | undefined;
  /** Whether what is asked is how the mechanism would be held at rest at this pose. */
  resting?: boolean;
}

/** What one element does at one instant. */
export interface EffortResult {
  /** Force in N or torque in N·m; positive pulls the ends together, or turns along the positive direction. */
  force: number;
  /** Length of a spring or damper (m), or angle of a torsion spring (rad). */
  length: number;
  /** A force as it acts on its body, in the world, N; nothing for torques. */
  vector: [x: number, y: number, z: number];
  /** Power put into the bodies, W. */
  power: number;
  /** Energy stored, J. */
  energy: number;
}

/** Coulomb friction of a joint. */
export interface DryFriction {
  coordinate: Coordinate;
  /** What it is while the joint slips, N or N·m; at most that while it sticks. */
  coulomb: number;
  /** What it is now, N or N·m, where that is decided elsewhere; null where it follows the rate. */
  force: number | null;
}

/** One element made ready: it adds generalised forces and tells what it did. */
export interface Effort {
  id: string;
  name: string;
  kind: Element['kind'] | 'friction' | 'gravity' | 'parts';
  result: EffortResult;
  /** Dry friction of a joint: in N or N·m, and where it acts. */
  dry?: DryFriction;
  /** Mass and inertia that go along with the body at `base` since {@link apply}: they count beside its own. */
  along?: { base: number; mass: number; inertia: number };
  /** Whether it may push a body across its plane. */
  across?: true;
  apply(state: EffortState, f: Float64Array): void;
  /** Adds what it did last to the bodies it acts on, in space: what acts within one joint has none. */
  load?(loads: BodyLoads): void;
}

const nothing = (): EffortResult => ({ force: 0, length: 0, vector: [0, 0, 0], power: 0, energy: 0 });

/**
 * Where a joint is led, Coulomb friction passes through zero along tanh(v/v₀) with this v₀, in rad/s or typical
 * lengths a second: a common regularisation, without which the noise of a dwell would throw friction to and fro.
 */
const CREEP = 1e-3;

/** Strengths given by formulas, ready to be read at a time in s, by identifier of their element. */
export type ElementFormulas = ReadonlyMap<string, (time: number) => number>;

/** What acts on a mechanism beside what its document gives in numbers. */
export interface EffortInputs {
  /** Length in s of the cycle over which loads are given. */
  cycleTime: number;
  formulas?: ElementFormulas | undefined;
  /** Forces of loose parts, and the bodies they may act on. */
  parts?: { schedule: WrenchSchedule; bodies: readonly string[] } | undefined;
  /** What cues switch on and off. */
  switches?: SwitchSchedule | undefined;
}

/**
 * Makes all that pushes, pulls and brakes ready: gravity, elements that are on or may be switched on, friction of joints,
 * and loose parts.
 * An element whose formula is not among `formulas` does nothing.
 */
export function compileEfforts(
  model: MechanismModel,
  { cycleTime, formulas = new Map(), parts, switches }: EffortInputs,
): Effort[] {
  const { mechanism } = model;
  const efforts: Effort[] = [];
  if (gravityOf(mechanism).some((part) => part !== 0)) efforts.push(gravityEffort(model));
  for (const element of mechanism.elements) {
    if (element.kind === 'stop') continue;
    if (switches?.has(element.id))
      efforts.push(switchedEffort(elementEffort(model, element, cycleTime, formulas), switches));
    else if (element.on) efforts.push(elementEffort(model, element, cycleTime, formulas));
  }
  for (const { joint, coordinate } of model.joints) {
    if (!coordinate || !hasPosition(joint)) continue;
    const { coulomb, viscous } = joint.friction;
    if (coulomb > 0 || viscous > 0)
      efforts.push(frictionEffort(model, joint.id, joint.name, coordinate, coulomb, viscous));
  }
  for (const body of model.bodies)
    if (parts?.bodies.includes(body.id))
      efforts.push((parts.schedule.inSpace ? spaceParts : partsEffort)(body, parts.schedule, model));
  return efforts;
}

/** An element that acts while it is switched on; its length is told all the time. */
function switchedEffort(effort: Effort, switches: SwitchSchedule): Effort {
  const { id, result } = effort;
  let nowhere = new Float64Array();
  return {
    ...effort,
    apply(state, f) {
      if (switches.isOn(id, state.time)) return effort.apply(state, f);
      if (nowhere.length < f.length) nowhere = new Float64Array(f.length);
      effort.apply(state, nowhere);
      result.force = result.power = result.energy = 0;
      setVector(result, 0, 0);
    },
  };
}

/** What loose parts do to a body, taken down or yet to be. */
function partsEffort(
  { id, name, base }: MechanismModel['bodies'][number],
  schedule: WrenchSchedule,
  { tree }: MechanismModel,
): Effort {
  const result = nothing();
  const body = tree.bodies.findIndex((own) => own.id === id);
  const at = () => tree.at.subarray(3 * body, 3 * body + 3);
  let moment = 0;
  const wrench = new Float64Array(8);
  return {
    id,
    name,
    kind: 'parts',
    result,
    along: { base, mass: 0, inertia: 0 },
    // Parts lie in the front plane: what they do is a force in it, and a moment about its normal.
    load(loads) {
      loads.push(body, result.vector, at());
      loads.turn(body, 0, 0, moment);
    },
    apply({ v, a, time, resting }, f) {
      schedule.at(id, time, wrench);
      const first = resting ? 3 : 0;
      const mass = resting ? 0 : wrench[6]!;
      const inertia = resting ? 0 : wrench[7]!;
      this.along!.mass = mass;
      this.along!.inertia = inertia;
      f[base] = f[base]! + wrench[first]!;
      f[base + 1] = f[base + 1]! + wrench[first + 1]!;
      f[base + 2] = f[base + 2]! + wrench[first + 2]!;
      if (!a) return;
      const fx = wrench[first]! - mass * a[base]!;
      const fy = wrench[first + 1]! - mass * a[base + 1]!;
      setVector(result, fx, fy);
      result.force = Math.hypot(fx, fy);
      moment = wrench[first + 2]! - inertia * a[base + 2]!;
      result.power = fx * v[base]! + fy * v[base + 1]! + moment * v[base + 2]!;
    },
  };
}

/** What loose parts in space do to a body. */
function spaceParts(
  { id, name }: MechanismModel['bodies'][number],
  schedule: WrenchSchedule,
  model: MechanismModel,
): Effort {
  const result = nothing();
  return {
    id,
    name,
    kind: 'parts',
    result,
    across: true,
    ...spaceWrench(model, id, result, (time, out) => schedule.at(id, time, out)),
  };
}

function gravityEffort(model: MechanismModel): Effort {
  const gravity = gravityOf(model.mechanism);
  const [gx, gy] = gravity;
  const result = nothing();
  const base = { id: 'gravity', name: 'Gravity', kind: 'gravity' as const, result };
  if (model.space) return { ...base, ...spaceGravity(model, model.space, gravity, result) };
  return {
    ...base,
    apply({ q, v }, f) {
      result.power = 0;
      result.energy = 0;
      for (const { base, mass } of model.bodies) {
        f[base] = f[base]! + mass * gx;
        f[base + 1] = f[base + 1]! + mass * gy;
        result.power += mass * (gx * v[base]! + gy * v[base + 1]!);
        result.energy -= mass * (gx * q[base]! + gy * q[base + 1]!);
      }
    },
  };
}

/** Adds a force on a point to the generalised forces; the ground takes none. */
function push(f: Float64Array, q: Positions, size: number, p: Attachment, fx: number, fy: number): void {
  if (p.base >= size) return;
  f[p.base] = f[p.base]! + fx;
  f[p.base + 1] = f[p.base + 1]! + fy;
  f[p.base + 2] = f[p.base + 2]! + armX(q, p) * fy - armY(q, p) * fx;
}

/** Adds an effort along a coordinate; gives the rate of the coordinate. */
function alongCoordinate(
  coordinate: Coordinate,
  { q, v }: EffortState,
  f: Float64Array,
  gradient: Float64Array,
  size: number,
  force: (rate: number) => number,
): number {
  coordinate.gradient(q, gradient);
  let rate = 0;
  for (let i = 0; i < coordinate.columns.length; i++) rate += gradient[i]! * v[coordinate.columns[i]!]!;
  const value = force(rate);
  for (let i = 0; i < coordinate.columns.length; i++) {
    const column = coordinate.columns[i]!;
    if (column < size) f[column] = f[column]! + value * gradient[i]!;
  }
  return rate;
}

function frictionEffort(
  model: MechanismModel,
  id: string,
  name: string,
  coordinate: Coordinate,
  coulomb: number,
  viscous: number,
): Effort {
  const gradient = new Float64Array(coordinate.columns.length);
  const result = nothing();
  const creep = CREEP * (coordinate.angular ? 1 : model.scale);
  const dry: DryFriction = { coordinate, coulomb, force: null };
  return {
    id,
    name,
    kind: 'friction',
    result,
    ...(coulomb > 0 && { dry }),
    apply(state, f) {
      const rate = alongCoordinate(coordinate, state, f, gradient, model.size, (r) => {
        result.force = (dry.force ?? -coulomb * Math.tanh(r / creep)) - viscous * r;
        return result.force;
      });
      result.power = result.force * rate;
    },
  };
}

function elementEffort(
  model: MechanismModel,
  element: Exclude<Element, { kind: 'stop' }>,
  cycleTime: number,
  formulas: ElementFormulas,
): Effort {
  const { size, mechanism, tree } = model;
  const planeAt = (plane: string | undefined) => tree.planes.findIndex(({ id }) => id === plane);
  const result = nothing();
  const base = { id: element.id, name: element.name, kind: element.kind, result };
  switch (element.kind) {
    case 'spring':
    case 'damper': {
      const a = model.attach(element.a);
      const b = model.attach(element.b);
      const { rate } = element;
      const free = element.kind === 'spring' ? element.free : 0;
      const spring = element.kind === 'spring';
      const inSpace = spaceSpring(model, element, result);
      if (inSpace) return { ...base, ...inSpace };
      const plane = planeAt(planeOf(mechanism, element.a));
      return {
        ...base,
        load: flatPull(tree, element, result),
        apply({ q, v }, f) {
          const dx = q[b.base]! + armX(q, b) - q[a.base]! - armX(q, a);
          const dy = q[b.base + 1]! + armY(q, b) - q[a.base + 1]! - armY(q, a);
          const length = Math.hypot(dx, dy);
          const ex = length > 0 ? dx / length : 0;
          const ey = length > 0 ? dy / length : 0;
          const vx = v[b.base]! - v[b.base + 2]! * armY(q, b) - v[a.base]! + v[a.base + 2]! * armY(q, a);
          const vy = v[b.base + 1]! + v[b.base + 2]! * armX(q, b) - v[a.base + 1]! - v[a.base + 2]! * armX(q, a);
          const speed = ex * vx + ey * vy;
          const force = spring ? rate * (length - free) : rate * speed;
          push(f, q, size, a, force * ex, force * ey);
          push(f, q, size, b, -force * ex, -force * ey);
          result.force = force;
          result.length = length;
          setVector(result, -force * ex, -force * ey);
          if (model.space) toWorld(model, plane, q, result);
          result.power = -force * speed;
          result.energy = spring ? (rate * (length - free) ** 2) / 2 : 0;
        },
      };
    }
    case 'torsion': {
      const coordinate = model.joint(element.joint)!.coordinate!;
      const gradient = new Float64Array(coordinate.columns.length);
      const { rate, free } = element;
      return {
        ...base,
        apply(state, f) {
          const angle = coordinate.value(state.q);
          result.force = -rate * (angle - free);
          result.length = angle;
          const turning = alongCoordinate(coordinate, state, f, gradient, size, () => result.force);
          result.power = result.force * turning;
          result.energy = (rate * (angle - free) ** 2) / 2;
        },
      };
    }
    case 'force': {
      const p = model.attach(element.at);
      const strength = strengthOf(model, element, cycleTime, formulas);
      const inSpace = spaceForce(model, element, result, strength);
      if (inSpace) return { ...base, ...inSpace };
      const point = tree.point(element.at);
      return {
        ...base,
        load: (loads) => loads.push(tree.bearerOf(point), result.vector, tree.spotOf(point)),
        apply(state, f) {
          const { q, v } = state;
          const angle = element.angle + (element.turns ? q[p.base + 2]! : 0);
          const force = strength(state);
          result.force = force;
          const [fx, fy] = [force * Math.cos(angle), force * Math.sin(angle)];
          setVector(result, fx, fy);
          push(f, q, size, p, fx, fy);
          const vx = v[p.base]! - v[p.base + 2]! * armY(q, p);
          const vy = v[p.base + 1]! + v[p.base + 2]! * armX(q, p);
          result.power = fx * vx + fy * vy;
        },
      };
    }
    case 'torque': {
      const strength = strengthOf(model, element, cycleTime, formulas);
      const onBody = spaceTorque(model, element.body, result, strength);
      // On the ground it does nothing, and is told.
      return { ...base, ...(onBody ?? { apply: (state) => void (result.force = strength(state)) }) };
    }
  }
}

function strengthOf(
  model: MechanismModel,
  { id, course }: Extract<Element, { kind: 'force' | 'torque' }>,
  cycleTime: number,
  formulas: ElementFormulas,
): (state: EffortState) => number {
  if (course.kind === 'formula') {
    const f = formulas.get(id);
    return f ? ({ time }) => f(time) : () => 0;
  }
  const value = courseValue(course);
  if (course.kind === 'constant') return () => value(0);
  if (course.over === 'position') {
    const coordinate = model.joint(course.joint ?? '')?.coordinate;
    return ({ q }) => value(coordinate ? coordinate.value(q) : 0);
  }
  if (course.over === 'cycle') return ({ time }) => value(placeInCycle(time, cycleTime));
  return ({ time }) => value(time);
}
