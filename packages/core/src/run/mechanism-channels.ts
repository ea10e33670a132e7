import { GROUND, turns, type Machine } from '../machine';
import type { QuantityKind } from '../quantity';
import { ofBody } from '../mechanism';
import type { MechanismRun } from './mechanism-run';
import { bearingChannels, bearingSamples, leavesFront, SPACE, spaceSamples, SPINNING } from './space-channels';
import type { Run } from './simulate';

/** Channels of the sensors' signals: 1 while on, 0 while off. */
export function signalChannels({ sequence }: Machine, { signals }: Pick<Run, 'signals'>): MechanismChannel[] {
  return (signals ?? []).map(({ sensor }) => ({
    id: `signal:${sensor}`,
    group: 'signal',
    object: sequence.sensors.find(({ id }) => id === sensor)?.name ?? sensor,
    label: 'signal',
    kind: 'number',
  }));
}

function signalSamples(signals: Run['signals'], sensor: string, times: Float64Array): Float64Array | undefined {
  const signal = signals?.find((s) => s.sensor === sensor);
  if (!signal) return undefined;
  let k = 0;
  return times.map((time) => {
    while (k + 1 < signal.times.length && signal.times[k + 1]! <= time) k++;
    return (k % 2 === 0) === signal.first ? 1 : 0;
  });
}

/** What kind of thing a channel of a mechanism belongs to. */
export type ChannelGroup =
  'axis' | 'part' | 'body' | 'point' | 'joint' | 'bearing' | 'drive' | 'element' | 'energy' | 'signal';

/** One quantity of a mechanism's run: of what, called what, in which unit. */
export interface MechanismChannel {
  /** `group:object:quantity`, for example `joint:joint2:force`. */
  id: string;
  group: ChannelGroup;
  object: string;
  label: string;
  kind: QuantityKind;
}

/** Quantities of places in the plane: components and magnitudes. */
const PLANE: [string, string, QuantityKind][] = [
  ['x', 'x', 'length'],
  ['y', 'y', 'length'],
  ['vx', 'velocity x', 'velocity'],
  ['vy', 'velocity y', 'velocity'],
  ['v', 'speed', 'velocity'],
  ['ax', 'acceleration x', 'acceleration'],
  ['ay', 'acceleration y', 'acceleration'],
  ['a', 'acceleration', 'acceleration'],
];
const TURNING: [string, string, QuantityKind][] = [
  ['angle', 'angle', 'angle'],
  ['w', 'angular velocity', 'angularVelocity'],
  ['alpha', 'angular acceleration', 'angularAcceleration'],
];
const ENERGY: [keyof MechanismRun['energy'], string, QuantityKind][] = [
  ['kinetic', 'kinetic energy', 'energy'],
  ['potential', 'energy of height', 'energy'],
  ['elastic', 'energy of springs', 'energy'],
  ['drives', 'power of the drives', 'power'],
  ['loads', 'power of the loads', 'power'],
  ['lost', 'power lost', 'power'],
  ['residual', 'what does not add up', 'power'],
];

/** Every channel that a mechanism's run has, in the order in which they are offered and exported. */
export function mechanismChannels(machine: Machine, run: MechanismRun): MechanismChannel[] {
  const { mechanism: m, axes } = machine;
  const channels: MechanismChannel[] = [];
  const add = (
    group: ChannelGroup,
    key: string,
    object: string,
    list: readonly (readonly [string, string, QuantityKind])[],
  ) => {
    for (const [quantity, label, kind] of list)
      channels.push({ id: `${group}:${key}:${quantity}`, group, object, label, kind });
  };
  for (const { axisId, jointId } of run.drives) {
    const axis = axes.find(({ id }) => id === axisId);
    const joint = m.joints.find(({ id }) => id === jointId);
    if (!axis || !joint) continue;
    const angular = axis.kind === 'rotary';
    add('drive', axisId, axis.name, [
      ['effort', angular ? 'torque into the mechanism' : 'force into the mechanism', angular ? 'torque' : 'force'],
      ['power', 'power into the mechanism', 'power'],
      ['reflected', angular ? 'inertia felt' : 'mass felt', angular ? 'inertia' : 'mass'],
      ['holding', angular ? 'holding torque' : 'holding force', angular ? 'torque' : 'force'],
    ]);
  }
  const inSpace = leavesFront(m);
  const moving = inSpace ? SPACE : PLANE;
  for (const body of m.bodies) {
    add('body', body.id, body.name, [...TURNING, ...moving, ...(inSpace ? SPINNING : [])]);
    for (const { id } of body.points)
      add('point', `${body.id}.${id}`, `${body.name}.${id}`, [...moving, ['path', 'path length', 'length']]);
  }
  for (const joint of m.joints) {
    const own = run.joints.find(({ id }) => id === joint.id);
    if (!own) continue;
    const angular = turns(joint);
    const moves: [string, string, QuantityKind][] = own.position
      ? [
          ['position', angular ? 'angle' : 'position', angular ? 'angle' : 'length'],
          ['rate', angular ? 'angular velocity' : 'velocity', angular ? 'angularVelocity' : 'velocity'],
          [
            'change',
            angular ? 'angular acceleration' : 'acceleration',
            angular ? 'angularAcceleration' : 'acceleration',
          ],
        ]
      : [];
    add('joint', joint.id, joint.name, [
      ...moves,
      ['force', 'reaction', 'force'],
      ['fx', 'reaction x', 'force'],
      ['fy', 'reaction y', 'force'],
      ['direction', 'direction of the reaction', 'angle'],
      ['moment', 'moment', 'torque'],
      ...(own.reaction.across ? ([['fz', 'reaction z', 'force']] as [string, string, QuantityKind][]) : []),
      ...(own.travelled ? ([['travelled', 'path length', 'length']] as [string, string, QuantityKind][]) : []),
      ...(own.contact ? ([['contact', 'contact force', 'force']] as [string, string, QuantityKind][]) : []),
    ]);
  }
  for (const bearing of run.bearings) {
    const joint = m.joints.find(({ id }) => id === bearing.id);
    if (!joint) continue;
    add('bearing', joint.id, joint.name, bearingChannels(joint.kind === 'slide' || joint.kind === 'slot', bearing));
  }
  for (const { id } of run.elements) {
    const element = m.elements.find((e) => e.id === id);
    const joint = m.joints.find((j) => `${j.id}.friction` === id);
    const body = m.bodies.find((b) => `${b.id}.parts` === id);
    if (id === 'gravity') continue;
    const angular = joint ? turns(joint) : element?.kind === 'torsion' || element?.kind === 'torque';
    const name = element?.name ?? (body ? `Parts on ${body.name}` : `${joint?.name ?? id} friction`);
    const long: [string, string, QuantityKind][] =
      element?.kind === 'spring' || element?.kind === 'damper' || element?.kind === 'torsion'
        ? [['length', angular ? 'angle' : 'length', angular ? 'angle' : 'length']]
        : [];
    add('element', id, name, [
      ['force', angular ? 'torque' : 'force', angular ? 'torque' : 'force'],
      ...long,
      ['power', 'power', 'power'],
    ]);
  }
  add('energy', 'all', 'Mechanism', ENERGY);
  return channels;
}

/** Samples of a mechanism's channel; undefined where the run does not have it (any more). */
export function mechanismSamples(
  machine: Machine,
  { mechanism: run, times, signals }: Run,
  id: string,
): Float64Array | undefined {
  if (id.startsWith('signal:')) return signalSamples(signals, id.slice('signal:'.length), times);
  if (!run) return undefined;
  const [group, key, quantity] = id.split(':') as [ChannelGroup, string, string];
  switch (group) {
    case 'axis':
    case 'part':
    case 'signal':
      return undefined;
    case 'energy':
      return run.energy[quantity as keyof MechanismRun['energy']];
    case 'element': {
      const own = run.elements.find((e) => e.id === key);
      return own?.[quantity as 'force'];
    }
    case 'drive': {
      const own = run.drives.find(({ axisId }) => axisId === key);
      const joint = run.joints.find((j) => j.id === own?.jointId);
      if (!own || quantity !== 'power') return own?.[quantity as 'effort'];
      const sign = machine.axes.find((a) => a.id === key)?.reversed ? -1 : 1;
      return own.effort.map((effort, k) => sign * effort * joint!.rate![k]!);
    }
    case 'joint': {
      const own = run.joints.find((j) => j.id === key);
      if (!own) return undefined;
      const [x, y] = own.reaction.force;
      const z = own.reaction.across;
      if (quantity === 'force') return x.map((fx, k) => Math.hypot(fx, y[k]!, z ? z[k]! : 0));
      if (quantity === 'fz') return z ?? undefined;
      if (quantity === 'direction') return continuous(x.map((fx, k) => Math.atan2(y[k]!, fx)));
      const reactions: Record<string, Float64Array> = { fx: x, fy: y, moment: own.reaction.moment };
      return reactions[quantity] ?? own[quantity as 'position'] ?? undefined;
    }
    case 'bearing': {
      const own = run.bearings.find((b) => b.id === key);
      return own && bearingSamples(own, quantity);
    }
    case 'body': {
      const i = run.bodies.findIndex((b) => b.id === key);
      if (i < 0) return undefined;
      const turning = { angle: run.q, w: run.v, alpha: run.a }[quantity];
      if (turning) return ofBody(turning, i)[2];
      if (leavesFront(machine.mechanism))
        return spaceSamples(machine.mechanism, run, { body: key }, quantity, times.length);
      return planeSamples(run, i, 0, 0, quantity, times);
    }
    case 'point': {
      const [body, point] = key.split('.') as [string, string];
      const i = run.bodies.findIndex((b) => b.id === body);
      const at = machine.mechanism.bodies.find((b) => b.id === body)?.points.find((p) => p.id === point)?.at;
      if (i < 0 || !at) return undefined;
      if (leavesFront(machine.mechanism))
        return spaceSamples(machine.mechanism, run, { body, point }, quantity, times.length);
      const { centre } = run.bodies[i]!;
      return planeSamples(run, i, at[0] - centre[0], at[1] - centre[1], quantity, times);
    }
  }
}

/** Angles without jumps at half turns. */
function continuous(angles: Float64Array): Float64Array {
  let turnsAdded = 0;
  for (let k = 1; k < angles.length; k++) {
    const raw = angles[k]! + turnsAdded;
    turnsAdded -= 2 * Math.PI * Math.round((raw - angles[k - 1]!) / (2 * Math.PI)) || 0;
    angles[k] = angles[k]! + turnsAdded;
  }
  return angles;
}

/** Motion of a point of a body, given from its centre of mass. */
function planeSamples(
  run: MechanismRun,
  body: number,
  lx: number,
  ly: number,
  quantity: string,
  times: Float64Array,
): Float64Array {
  const [qx, qy, qa] = ofBody(run.q, body);
  const [vx, vy, w] = ofBody(run.v, body);
  const [ax, ay, al] = ofBody(run.a, body);
  const out = new Float64Array(times.length);
  let length = 0;
  let before: [number, number] | null = null;
  for (let k = 0; k < times.length; k++) {
    const [c, s] = [Math.cos(qa[k]!), Math.sin(qa[k]!)];
    const [rx, ry] = [c * lx - s * ly, s * lx + c * ly];
    const turn = w[k]!;
    const v = [vx[k]! - turn * ry, vy[k]! + turn * rx] as const;
    const a = [ax[k]! - al[k]! * ry - turn * turn * rx, ay[k]! + al[k]! * rx - turn * turn * ry] as const;
    const at: [number, number] = [qx[k]! + rx, qy[k]! + ry];
    if (before) length += Math.hypot(at[0] - before[0], at[1] - before[1]);
    before = at;
    const values: Record<string, number> = {
      x: at[0],
      y: at[1],
      vx: v[0],
      vy: v[1],
      v: Math.hypot(...v),
      ax: a[0],
      ay: a[1],
      a: Math.hypot(...a),
      path: length,
    };
    out[k] = values[quantity] ?? NaN;
  }
  return out;
}

/** The path that a point of a body takes over the run, in the world, m; what was not reached is left out. */
export function tracedPath(machine: Machine, run: Run, place: { body: string; point: string }): [number, number][] {
  if (place.body === GROUND) return [];
  const x = mechanismSamples(machine, run, `point:${place.body}.${place.point}:x`);
  const y = mechanismSamples(machine, run, `point:${place.body}.${place.point}:y`);
  if (!x || !y) return [];
  return Array.from(x.subarray(0, run.mechanism!.reached), (value, k) => [value, y[k]!]);
}
