import { kineticEnergy } from '../dynamics';
import { GROUND, switchedElements, type Machine } from '../machine';
import {
  assemble,
  compileMechanism,
  indexerGeometry,
  MechanismError,
  mobilityAt,
  pointOf,
  ratesOf,
  ungroundedBodies,
  type MechanismModel,
  type Mobility,
  type Positions,
} from '../mechanism';
import type { MechanismFinding } from './mechanism-run';

/** Whether a machine has a mechanism at all. */
export function hasMechanism(machine: Machine): boolean {
  return machine.mechanism.bodies.length > 0;
}

const drivenJoints = (machine: Machine) =>
  machine.axes.flatMap(({ id, joint }) => (joint === null ? [] : [{ axisId: id, joint }]));

/** A mechanism made ready and brought together, with all that can be said before it moves. */
export interface PreparedMechanism {
  model: MechanismModel;
  q: Positions;
  mobility: Mobility;
  findings: MechanismFinding[];
  runs: boolean;
}

/** Brings a mechanism together and says what is missing, free, or said twice. */
export function prepareMechanism(machine: Machine): PreparedMechanism | { findings: MechanismFinding[]; runs: false } {
  const findings: MechanismFinding[] = [];
  const { mechanism } = machine;
  const loose = ungroundedBodies(mechanism);
  let model: MechanismModel;
  try {
    model = compileMechanism(mechanism, drivenJoints(machine), switchedElements(machine));
  } catch (error) {
    if (!(error instanceof MechanismError)) throw error;
    return { findings: [{ code: 'broken', severity: 'error', text: error.message }], runs: false };
  }
  if (loose.length > 0) findings.push({ code: 'not-grounded', severity: 'error', bodies: loose });
  for (const coupling of mechanism.couplings) {
    if (coupling.kind !== 'indexer') continue;
    const { crankRadius, distance } = indexerGeometry(coupling, mechanism);
    const wanted = distance * Math.sin(Math.PI / coupling.slots);
    if (Math.abs(crankRadius - wanted) > 1e-3 * wanted)
      findings.push({ code: 'indexer-radius', severity: 'error', id: coupling.id, radius: crankRadius, wanted });
  }
  const assembly = assemble(model);
  findings.push(...gearsApart(model, assembly.q));
  const mobility = mobilityAt(model, assembly.q);
  if (!assembly.assembled) findings.push({ code: 'apart', severity: 'error', gaps: assembly.apart.slice(0, 3) });
  if (assembly.assembled)
    for (const owners of mobility.redundant) findings.push({ code: 'redundant', severity: 'warning', owners });
  for (const owners of mobility.fighting) findings.push({ code: 'fighting', severity: 'error', owners });
  const free = mobility.modes.map(({ bodies }) => bodies);
  if (mobility.remaining > 0)
    findings.push({ code: 'free', severity: 'info', count: mobility.remaining, bodies: free });
  const massless = model.bodies
    .filter(({ id, mass, inertia }) => free.some((list) => list.includes(id)) && (mass <= 0 || inertia <= 0))
    .map(({ id }) => id);
  // A body without mass is carried along as long as every way it can go moves a mass too.
  const stuck = mobility.modes.filter(({ motion }) => {
    const rates = ratesOf(model);
    rates.set(motion);
    return 2 * kineticEnergy(model, assembly.q, rates) < 1e-18;
  });
  if (stuck.length > 0) findings.push({ code: 'no-mass', severity: 'error', bodies: massless });
  const flat = guessedTensors(model);
  if (flat.length > 0) findings.push({ code: 'flat-tensor', severity: 'info', bodies: flat });
  const runs = !findings.some(({ severity }) => severity === 'error');
  return { model, q: assembly.q, mobility, findings, runs };
}

/** Gears on shafts of one carrier whose radii do not add up to the distance of the shafts. */
function gearsApart(model: MechanismModel, q: Positions): MechanismFinding[] {
  return model.couplings.flatMap(({ coupling }): MechanismFinding[] => {
    if (coupling.kind !== 'gear') return [];
    const [one, two] = [model.joint(coupling.first), model.joint(coupling.second)];
    if (!one || !two || one.a.base !== two.a.base || one.plane !== two.plane) return [];
    const [x1, y1] = pointOf(q, one.b);
    const [x2, y2] = pointOf(q, two.b);
    const distance = Math.hypot(x2 - x1, y2 - y1);
    const { radius1, radius2, inside } = coupling;
    const wanted = inside ? Math.abs(radius1 - radius2) : radius1 + radius2;
    return Math.abs(distance - wanted) > 2e-3 * (radius1 + radius2)
      ? [{ code: 'gear-distance', severity: 'warning', id: coupling.id, distance, wanted }]
      : [];
  });
}

/** Bodies that turn out of their plane, of whose inertia a part was guessed. */
function guessedTensors({ tree, mechanism }: MechanismModel): string[] {
  /** Whether a slide or weld to the frame keeps a body from turning in its plane. */
  const isHeld = (id: string) =>
    mechanism.joints.some(
      (joint) => (joint.kind === 'slide' || joint.kind === 'weld') && joint.b.body === id && joint.a.body === GROUND,
    );
  return tree.bodies.flatMap(({ id, guessed, mass }, b) => {
    const [, ...carriers] = tree.chainOf(b);
    return guessed && mass > 0 && carriers.some((k) => !isHeld(tree.bodies[k]!.id)) ? [id] : [];
  });
}
