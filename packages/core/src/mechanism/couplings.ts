import type { Constraint, Coordinate, JacobianPattern } from './state';

/** A function of one coordinate with two derivatives. */
export interface Transfer {
  value(x: number): number;
  slope(x: number): number;
  bend(x: number): number;
}

/** Motion of the second in proportion to the first. */
export function ratioTransfer(ratio: number, offset: number): Transfer {
  return { value: (x) => ratio * x + offset, slope: () => ratio, bend: () => 0 };
}

/**
 * An outside indexing wheel by its geometry (Geneva wheel; handbook formulas): radius of the crank over distance of
 * the centres is sin(π/N), so that the pin enters and leaves along the slot. In between the wheel is held.
 * The crank's angle counts from where its pin points to the wheel; the wheel's result is how far it has turned.
 */
export function indexerTransfer(slots: number): Transfer {
  const k = Math.sin(Math.PI / slots);
  const half = Math.PI / 2 - Math.PI / slots;
  const turn = 2 * Math.PI;
  const local = (x: number) => x - turn * Math.round(x / turn);
  const engaged = (a: number) => Math.abs(a) < half;
  const square = (a: number) => 1 + k * k - 2 * k * Math.cos(a);
  return {
    value(x) {
      const a = local(x);
      const whole = (Math.round(x / turn) * turn) / slots;
      const inside = engaged(a) ? Math.atan2(k * Math.sin(a), 1 - k * Math.cos(a)) : (Math.sign(a) * Math.PI) / slots;
      return -(whole + inside);
    },
    slope(x) {
      const a = local(x);
      return engaged(a) ? -(k * (Math.cos(a) - k)) / square(a) : 0;
    },
    bend(x) {
      const a = local(x);
      return engaged(a) ? (k * (1 - k * k) * Math.sin(a)) / square(a) ** 2 : 0;
    },
  };
}

/** Half the angle of the crank over which an indexing wheel of N slots moves, rad. */
export function indexerHalfAngle(slots: number): number {
  return Math.PI / 2 - Math.PI / slots;
}

/** The second coordinate is a function of the first. */
export function couplingConstraint(
  owner: string,
  firstRow: number,
  first: Coordinate,
  second: Coordinate,
  transfer: Transfer,
  pattern: JacobianPattern,
): Constraint {
  const slots1 = first.columns.map((column) => pattern.slot(firstRow, column));
  const slots2 = second.columns.map((column) => pattern.slot(firstRow, column));
  const gradient = new Float64Array(Math.max(slots1.length, slots2.length));
  return {
    owner,
    firstRow,
    rows: [second.angular ? 'angle' : 'length'],
    residual: (q, out) => void (out[firstRow] = second.value(q) - transfer.value(first.value(q))),
    jacobian(q, values) {
      second.gradient(q, gradient);
      slots2.forEach((slot, i) => (values[slot]! += gradient[i]!));
      const slope = transfer.slope(first.value(q));
      first.gradient(q, gradient);
      slots1.forEach((slot, i) => (values[slot]! -= slope * gradient[i]!));
    },
    gamma(q, v, out) {
      const x = first.value(q);
      first.gradient(q, gradient);
      let rate = 0;
      first.columns.forEach((column, i) => (rate += gradient[i]! * v[column]!));
      out[firstRow] = transfer.bend(x) * rate * rate + transfer.slope(x) * first.bend(q, v) - second.bend(q, v);
    },
  };
}

/** A coordinate is led by a drive; the value it is led to comes from outside. */
export function driveConstraint(
  owner: string,
  firstRow: number,
  coordinate: Coordinate,
  pattern: JacobianPattern,
): Constraint {
  const slots = coordinate.columns.map((column) => pattern.slot(firstRow, column));
  const gradient = new Float64Array(slots.length);
  return {
    owner,
    firstRow,
    rows: [coordinate.angular ? 'angle' : 'length'],
    residual: (q, out) => void (out[firstRow] = coordinate.value(q)),
    jacobian(q, values) {
      coordinate.gradient(q, gradient);
      slots.forEach((slot, i) => (values[slot]! += gradient[i]!));
    },
    gamma: (q, v, out) => void (out[firstRow] = -coordinate.bend(q, v)),
  };
}
