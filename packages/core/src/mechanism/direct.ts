import type { Cluster } from './clusters';
import type { MechanismModel } from './model';
import { armX, armY, type Attachment, type Positions, type Rates } from './state';

/**
 * One body on a driven pin or slide of the frame of its plane, in closed form: what most axes lead, and every link of
 * an arm whose links carry each other's planes. It takes the place of the sparse system of its equations.
 */
export interface DirectPart {
  /** Writes where the body stands when the drive is led to `led`; false where that is no number. */
  place(led: number, q: Positions): boolean;
  /** Writes the velocities at a pose for the rate of what the drive is led to. */
  velocities(q: Positions, rate: number, v: Rates): void;
  /** Writes the accelerations at a pose, after {@link velocities}, for the second derivative of the same. */
  accelerations(q: Positions, v: Rates, change: number, a: Rates): void;
  /** Solves Φqᵀ λ = f at a pose for the rows of the part. */
  solveTransposed(q: Positions, f: Float64Array, lambda: Float64Array): void;
}

/** The closed form of a part; null where it is more than one body on a driven pin or slide of a frame. */
export function directPart(model: MechanismModel, cluster: Cluster): DirectPart | null {
  const { columns, rows, drives, constraints } = cluster;
  if (columns.length !== 3 || rows.length !== 3 || drives.length !== 1) return null;
  const drive = model.drives[drives[0]!]!;
  const { joint, a, b, guide } = drive.joint;
  // Nothing else may tie the body, not even what says twice what the joint says.
  const own = new Set([...drive.joint.constraints.map(({ firstRow }) => firstRow), drive.row]);
  if (guide || constraints.length !== own.size || constraints.some(({ firstRow }) => !own.has(firstRow))) return null;
  const isFrame = (side: Attachment) => side.base === model.size;
  if (joint.kind === 'pin' && isFrame(a) !== isFrame(b)) {
    const { firstRow } = drive.joint.constraints[0]!;
    return isFrame(a)
      ? pinned(a, b, 1, joint.zero, firstRow, drive.row)
      : pinned(b, a, -1, joint.zero, firstRow, drive.row);
  }
  if (joint.kind === 'slide' && isFrame(a) && !isFrame(b)) {
    const [line, angle] = drive.joint.constraints;
    return slid(a, b, joint, { line: line!.firstRow, angle: angle!.firstRow, drive: drive.row });
  }
  return null;
}

/** @param sense 1 where the angle counted is that of the body against the frame, −1 where it is the other way about */
function pinned(
  frame: Attachment,
  body: Attachment,
  sense: 1 | -1,
  zero: number,
  row: number,
  driveRow: number,
): DirectPart {
  const { base: x } = body;
  const [y, turn] = [x + 1, x + 2];
  return {
    place(led, q) {
      q[turn] = sense * (led + zero);
      q[x] = frame.x - armX(q, body);
      q[y] = frame.y - armY(q, body);
      return Number.isFinite(led);
    },
    velocities(q, rate, v) {
      const w = sense * rate;
      v[turn] = w;
      v[x] = armY(q, body) * w;
      v[y] = -armX(q, body) * w;
    },
    accelerations(q, v, change, a) {
      const [w, alpha] = [v[turn]!, sense * change];
      const [rx, ry] = [armX(q, body), armY(q, body)];
      a[turn] = alpha;
      a[x] = ry * alpha + rx * w * w;
      a[y] = -rx * alpha + ry * w * w;
    },
    solveTransposed(q, f, lambda) {
      const [fx, fy] = [f[x]!, f[y]!];
      lambda[row] = sense * fx;
      lambda[row + 1] = sense * fy;
      lambda[driveRow] = sense * (f[turn]! + armY(q, body) * fx - armX(q, body) * fy);
    },
  };
}

function slid(
  frame: Attachment,
  body: Attachment,
  { angle, turn: stands, zero }: { angle: number; turn: number; zero: number },
  rows: { line: number; angle: number; drive: number },
): DirectPart {
  const { base: x } = body;
  const [y, turn] = [x + 1, x + 2];
  const [ux, uy] = [Math.cos(angle), Math.sin(angle)];
  return {
    place(led, q) {
      const way = led + zero;
      q[turn] = stands;
      q[x] = frame.x + ux * way - armX(q, body);
      q[y] = frame.y + uy * way - armY(q, body);
      return Number.isFinite(led);
    },
    velocities(_q, rate, v) {
      v[x] = ux * rate;
      v[y] = uy * rate;
      v[turn] = 0;
    },
    accelerations(_q, _v, change, a) {
      a[x] = ux * change;
      a[y] = uy * change;
      a[turn] = 0;
    },
    solveTransposed(q, f, lambda) {
      const [fx, fy] = [f[x]!, f[y]!];
      lambda[rows.line] = ux * fy - uy * fx;
      lambda[rows.drive] = ux * fx + uy * fy;
      lambda[rows.angle] = f[turn]! + armY(q, body) * fx - armX(q, body) * fy;
    },
  };
}
