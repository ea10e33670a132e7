import type { Effort } from '../dynamics';
import { kineticEnergy, kineticPowerInSpace } from '../dynamics';
import {
  armX,
  armY,
  coordinateRate,
  senseOf,
  type Equations,
  type MechanismModel,
  type MechanismState,
  type Positions,
  type Rates,
} from '../mechanism';
import { BearingLoads, hasDepth, standsInSpace, tieForce } from './bearing';
import type { BearingRun, DriveRun, ElementRun, JointRun, MechanismEnergy } from './mechanism-run';

const unreached = (count: number) => new Float64Array(count).fill(NaN);

/** Takes down a mechanism's run sample by sample. */
export class Recorder {
  readonly q: Float64Array[];
  readonly v: Float64Array[];
  readonly a: Float64Array[];
  readonly joints: JointRun[];
  readonly drives: DriveRun[];
  readonly elements: ElementRun[];
  readonly energy: MechanismEnergy;
  private readonly model: MechanismModel;
  private readonly efforts: readonly Effort[];
  private readonly ownerRows: { rows: number[] }[];
  private readonly rowEntries: { column: number; slot: number }[][];
  private readonly gradient: Float64Array;
  private readonly senses: number[];
  private readonly bearing: BearingLoads | null;

  constructor(model: MechanismModel, efforts: readonly Effort[], count: number) {
    this.model = model;
    this.efforts = efforts;
    this.gradient = new Float64Array(model.widest);
    const many = () => Array.from({ length: model.size }, () => unreached(count));
    this.q = many();
    this.v = many();
    this.a = many();
    this.joints = model.joints.map(({ joint, coordinate, guide }) => ({
      id: joint.id,
      position: coordinate ? unreached(count) : null,
      rate: coordinate ? unreached(count) : null,
      change: coordinate ? unreached(count) : null,
      reaction: {
        force: [unreached(count), unreached(count)],
        across: standsInSpace(model, joint) ? unreached(count) : null,
        moment: unreached(count),
      },
      travelled: guide ? unreached(count) : null,
      contact: joint.kind === 'cam' && joint.closure === 'spring' ? unreached(count) : null,
    }));
    this.drives = model.drives.map(({ axisId, joint }) => ({
      axisId,
      jointId: joint.joint.id,
      effort: unreached(count),
      reflected: unreached(count),
      holding: unreached(count),
    }));
    this.elements = efforts.map(({ id, kind }) => ({
      id: kind === 'friction' || kind === 'parts' ? `${id}.${kind}` : id,
      force: unreached(count),
      length: unreached(count),
      vector: [unreached(count), unreached(count), unreached(count)],
      power: unreached(count),
    }));
    this.energy = {
      kinetic: unreached(count),
      potential: unreached(count),
      elastic: unreached(count),
      drives: unreached(count),
      loads: unreached(count),
      lost: unreached(count),
      residual: unreached(count),
    };
    this.rowEntries = Array.from({ length: model.rows }, () => []);
    for (let k = 1; k < model.entryRows.length; k++)
      this.rowEntries[model.entryRows[k]!]!.push({ column: model.entryColumns[k]!, slot: k });
    const acrossToo = hasDepth(model) || efforts.some(({ across }) => across);
    this.bearing = acrossToo ? new BearingLoads(model, efforts, count) : null;
    this.ownerRows = model.joints.map(({ constraints }) => ({
      rows: constraints.flatMap(({ firstRow, rows }) => rows.map((_, i) => firstRow + i)),
    }));
    this.senses = model.joints.map(({ guide }) => (guide ? senseOf(guide.carried.curve) : 1));
  }

  get bearings(): BearingRun[] {
    return this.bearing?.runs ?? [];
  }

  /** Takes down sample k; the Jacobian in `equations` must belong to the state. */
  take(k: number, { q, v, a }: MechanismState, lambda: Float64Array, equations: Equations): void {
    const { model } = this;
    for (let j = 0; j < model.size; j++) {
      this.q[j]![k] = q[j]!;
      this.v[j]![k] = v[j]!;
      this.a[j]![k] = a[j]!;
    }
    model.joints.forEach((_, i) => this.takeJoint(i, k, q, v, a, lambda, equations));
    this.takeTeeth(k, q, lambda);
    this.bearing?.take(k, { q, v, a }, lambda);
    let driven = 0;
    model.drives.forEach(({ row, coordinate }, i) => {
      const effort = -lambda[row]!;
      this.drives[i]!.effort[k] = effort;
      driven += effort * coordinateRate(coordinate, q, v, this.gradient);
    });
    this.takeEnergy(k, q, v, a, driven);
  }

  private takeJoint(
    i: number,
    k: number,
    q: Positions,
    v: Rates,
    a: Rates,
    lambda: Float64Array,
    equations: Equations,
  ): void {
    const { joint, coordinate, a: onA, b, guide } = this.model.joints[i]!;
    const run = this.joints[i]!;
    if (coordinate) {
      run.position![k] = coordinate.value(q);
      run.rate![k] = coordinateRate(coordinate, q, v, this.gradient);
      run.change![k] = coordinateRate(coordinate, q, a, this.gradient) + coordinate.bend(q, v);
    }
    if (guide) run.travelled![k] = q[guide.column]! - this.q[guide.column]![0]!;
    const { across } = run.reaction;
    if (across) {
      const [x, y, z] = tieForce(this.model, this.model.joints[i]!, q, lambda, this.efforts);
      run.reaction.force[0][k] = x;
      run.reaction.force[1][k] = y;
      across[k] = z;
      run.reaction.moment[k] = 0;
      return;
    }
    // Forces come from the rows of the body that is not the ground; on the other body they are opposite.
    const onB = b.base < this.model.size;
    const side = onB ? b : onA;
    let fx = 0;
    let fy = 0;
    let moment = 0;
    for (const row of this.rowsOf(i))
      for (const { column, slot } of this.rowEntries[row]!) {
        const share = -lambda[row]! * equations.values[slot]!;
        if (column === side.base) fx += share;
        else if (column === side.base + 1) fy += share;
        else if (column === side.base + 2) moment += share;
      }
    // What acts along the freedom of a joint is the drive's, its friction's or a stop's, on a path as on a slide.
    if (guide) {
      guide.carried.curve.at(q[guide.column]!, point);
      const angle = q[guide.carried.base + 2]!;
      const [tx, ty] = [
        Math.cos(angle) * point.tx - Math.sin(angle) * point.ty,
        Math.sin(angle) * point.tx + Math.cos(angle) * point.ty,
      ];
      const along = fx * tx + fy * ty;
      fx -= along * tx;
      fy -= along * ty;
    }
    // The moment about the point of b, whichever body it was read from.
    const [px, py] = onB ? [armX(q, b), armY(q, b)] : [b.x - q[side.base]!, b.y - q[side.base + 1]!];
    moment -= px * fy - py * fx;
    const sign = onB ? 1 : -1;
    const { force, moment: moments } = run.reaction;
    force[0][k] = sign * fx;
    force[1][k] = sign * fy;
    moments[k] = sign * moment;
    if (run.contact && guide && joint.kind === 'cam') run.contact[k] = this.contactForce(i, q, sign * fx, sign * fy);
  }

  /** Rows that make up the reaction of a joint: its own, and those of drives and stops that act along it as forces. */
  private rowsOf(i: number): number[] {
    const { joint } = this.model.joints[i]!;
    if (joint.kind !== 'cylinder') return this.ownerRows[i]!.rows;
    // A cylinder has no equation of its own: what it carries is the effort of its drive.
    return this.model.drives.filter((drive) => drive.joint.joint.id === joint.id).map(({ row }) => row);
  }

  /** Force along the outward normal of the cam on its follower. */
  private contactForce(i: number, q: Positions, fx: number, fy: number): number {
    const { guide, joint, b } = this.model.joints[i]!;
    const { base, curve } = guide!.carried;
    if (joint.kind === 'cam' && joint.follower.kind === 'flat') {
      const face = q[b.base + 2]! + joint.follower.angle;
      curve.at(q[guide!.column]!, point);
      const angle = q[base + 2]!;
      const ox = this.senses[i]! * (Math.cos(angle) * point.ty + Math.sin(angle) * point.tx);
      const oy = this.senses[i]! * (Math.sin(angle) * point.ty - Math.cos(angle) * point.tx);
      const [nx, ny] = [-Math.sin(face), Math.cos(face)];
      return (fx * nx + fy * ny) * Math.sign(nx * ox + ny * oy);
    }
    curve.at(q[guide!.column]!, point);
    const angle = q[base + 2]!;
    const ox = this.senses[i]! * (Math.cos(angle) * point.ty + Math.sin(angle) * point.tx);
    const oy = this.senses[i]! * (Math.sin(angle) * point.ty - Math.cos(angle) * point.tx);
    return fx * ox + fy * oy;
  }

  /**
   * Adds to the bearings of gears what their teeth press: in the equations a gear pair passes on torque alone.
   * Tangential force T/r at the pitch point, and apart by tan 20° of it (pressure angle of ISO 53).
   */
  private takeTeeth(k: number, q: Positions, lambda: Float64Array): void {
    const { couplings, joints } = this.model;
    for (const { coupling, constraint } of couplings) {
      if (coupling.kind !== 'gear') continue;
      const one = joints.findIndex(({ joint }) => joint.id === coupling.first);
      const two = joints.findIndex(({ joint }) => joint.id === coupling.second);
      const [first, second] = [joints[one]!, joints[two]!];
      if (first.a.base !== second.a.base || first.plane !== second.plane) continue;
      const [x1, y1] = [q[first.b.base]! + armX(q, first.b), q[first.b.base + 1]! + armY(q, first.b)];
      const [x2, y2] = [q[second.b.base]! + armX(q, second.b), q[second.b.base + 1]! + armY(q, second.b)];
      const distance = Math.hypot(x2 - x1, y2 - y1);
      if (distance === 0) continue;
      const [ex, ey] = [(x2 - x1) / distance, (y2 - y1) / distance];
      const ring = coupling.inside && coupling.radius1 > coupling.radius2 ? 1 : -1;
      const tangential = (-lambda[constraint.firstRow]! / coupling.radius2) * ring;
      const apart = Math.abs(tangential) * Math.tan(Math.PI / 9) * (coupling.inside ? -1 : 1);
      // Force of the teeth on the second gear; on the first it is opposite, and bearings answer both.
      const fx = -tangential * ey + apart * ex;
      const fy = tangential * ex + apart * ey;
      for (const [joint, sign] of [
        [two, -1],
        [one, 1],
      ] as const) {
        const { force } = this.joints[joint]!.reaction;
        force[0][k]! += sign * fx;
        force[1][k]! += sign * fy;
      }
    }
  }

  private takeEnergy(k: number, q: Positions, v: Rates, a: Rates, driven: number): void {
    const { energy, efforts, model } = this;
    let potential = 0;
    let elastic = 0;
    let loads = 0;
    let lost = 0;
    let stored = 0;
    efforts.forEach(({ kind, result }, i) => {
      const run = this.elements[i]!;
      run.force[k] = result.force;
      run.length[k] = result.length;
      [run.vector[0][k], run.vector[1][k], run.vector[2][k]] = result.vector;
      run.power[k] = result.power;
      if (kind === 'gravity') potential += result.energy;
      if (kind === 'spring' || kind === 'torsion') elastic += result.energy;
      if (kind === 'gravity' || kind === 'spring' || kind === 'torsion') stored -= result.power;
      if (kind === 'force' || kind === 'torque' || kind === 'parts') loads += result.power;
      if (kind === 'friction' || kind === 'damper') lost -= result.power;
    });
    let change = 0;
    if (model.space) {
      model.space.move(q, v, a);
      change = kineticPowerInSpace(model.space);
    } else for (let j = 0; j < model.size; j++) change += model.inertia[j]! * v[j]! * a[j]!;
    energy.kinetic[k] = kineticEnergy(model, q, v);
    energy.potential[k] = potential;
    energy.elastic[k] = elastic;
    energy.drives[k] = driven;
    energy.loads[k] = loads;
    energy.lost[k] = lost;
    energy.residual[k] = driven + loads - lost - change - stored;
  }
}

const point = { x: 0, y: 0, tx: 1, ty: 0, curvature: 0, curvatureRate: 0 };
