/**
 * Arithmetic on values with three derivatives, exact to rounding (truncated Taylor series; Griewank and Walther,
 * Evaluating Derivatives, 2008). A jet at offset o of a register file r: r[o] value, r[o+1] to r[o+3] derivatives.
 */
export type Registers = Float64Array;
export type Step = (r: Registers) => void;

export const addJets = (a: number, b: number, sign: number, o: number): Step => {
  return (r) => {
    r[o] = r[a]! + sign * r[b]!;
    r[o + 1] = r[a + 1]! + sign * r[b + 1]!;
    r[o + 2] = r[a + 2]! + sign * r[b + 2]!;
    r[o + 3] = r[a + 3]! + sign * r[b + 3]!;
  };
};

/** a·k + c with numbers k and c. */
export const scaleJet = (a: number, k: number, c: number, o: number): Step => {
  return (r) => {
    r[o] = r[a]! * k + c;
    r[o + 1] = r[a + 1]! * k;
    r[o + 2] = r[a + 2]! * k;
    r[o + 3] = r[a + 3]! * k;
  };
};

export const multiplyJets = (a: number, b: number, o: number): Step => {
  return (r) => {
    const a0 = r[a]!;
    const a1 = r[a + 1]!;
    const a2 = r[a + 2]!;
    const b0 = r[b]!;
    const b1 = r[b + 1]!;
    const b2 = r[b + 2]!;
    const a3 = r[a + 3]!;
    const b3 = r[b + 3]!;
    r[o] = a0 * b0;
    r[o + 1] = a1 * b0 + a0 * b1;
    r[o + 2] = a2 * b0 + 2 * a1 * b1 + a0 * b2;
    r[o + 3] = a3 * b0 + 3 * (a2 * b1 + a1 * b2) + a0 * b3;
  };
};

export const divideJets = (a: number, b: number, o: number): Step => {
  return (r) => {
    const b0 = r[b]!;
    const b1 = r[b + 1]!;
    const b2 = r[b + 2]!;
    const w0 = r[a]! / b0;
    const w1 = (r[a + 1]! - w0 * b1) / b0;
    const w2 = (r[a + 2]! - 2 * w1 * b1 - w0 * b2) / b0;
    r[o + 3] = (r[a + 3]! - 3 * (w2 * b1 + w1 * b2) - w0 * r[b + 3]!) / b0;
    r[o] = w0;
    r[o + 1] = w1;
    r[o + 2] = w2;
  };
};

/** Writes f(u) from f and its derivatives at u (Faà di Bruno). */
export function chain(r: Registers, u: number, o: number, f: number, f1: number, f2: number, f3: number): void {
  const u1 = r[u + 1]!;
  const u2 = r[u + 2]!;
  const u3 = r[u + 3]!;
  r[o] = f;
  r[o + 1] = f1 * u1;
  r[o + 2] = f2 * u1 * u1 + f1 * u2;
  r[o + 3] = f3 * u1 * u1 * u1 + 3 * f2 * u1 * u2 + f1 * u3;
}

export const copyJet = (a: number, o: number): Step => {
  return (r) => {
    r[o] = r[a]!;
    r[o + 1] = r[a + 1]!;
    r[o + 2] = r[a + 2]!;
    r[o + 3] = r[a + 3]!;
  };
};

/** Functions of one jet, by name. */
export const ELEMENTARY: Readonly<Record<string, (u: number, o: number) => Step>> = {
  sin: (u, o) => (r) => {
    const s = Math.sin(r[u]!);
    const c = Math.cos(r[u]!);
    chain(r, u, o, s, c, -s, -c);
  },
  cos: (u, o) => (r) => {
    const s = Math.sin(r[u]!);
    const c = Math.cos(r[u]!);
    chain(r, u, o, c, -s, -c, s);
  },
  tan: (u, o) => (r) => {
    const y = Math.tan(r[u]!);
    const d = 1 + y * y;
    chain(r, u, o, y, d, 2 * y * d, 2 * d * (1 + 3 * y * y));
  },
  asin: (u, o) => (r) => {
    const x = r[u]!;
    const q = 1 / (1 - x * x);
    const d = Math.sqrt(q);
    chain(r, u, o, Math.asin(x), d, x * d * q, (1 + 2 * x * x) * d * q * q);
  },
  acos: (u, o) => (r) => {
    const x = r[u]!;
    const q = 1 / (1 - x * x);
    const d = -Math.sqrt(q);
    chain(r, u, o, Math.acos(x), d, x * d * q, (1 + 2 * x * x) * d * q * q);
  },
  atan: (u, o) => (r) => {
    const x = r[u]!;
    const d = 1 / (1 + x * x);
    chain(r, u, o, Math.atan(x), d, -2 * x * d * d, (6 * x * x - 2) * d * d * d);
  },
  exp: (u, o) => (r) => {
    const y = Math.exp(r[u]!);
    chain(r, u, o, y, y, y, y);
  },
  ln: (u, o) => (r) => {
    const d = 1 / r[u]!;
    chain(r, u, o, Math.log(r[u]!), d, -d * d, 2 * d * d * d);
  },
  sqrt: (u, o) => (r) => {
    const y = Math.sqrt(r[u]!);
    const d = 0.5 / y;
    chain(r, u, o, y, d, -d / (2 * r[u]!), (3 * d) / (4 * r[u]! * r[u]!));
  },
  abs: (u, o) => (r) => {
    const s = r[u]! < 0 ? -1 : 1;
    chain(r, u, o, s * r[u]!, s, 0, 0);
  },
};

/** u to a fixed power; a whole power works through zero and below it. */
export const powerOf = (u: number, n: number, o: number): Step => {
  const [c1, c2, c3] = [n, n * (n - 1), n * (n - 1) * (n - 2)];
  return (r) => {
    const x = r[u]!;
    chain(
      r,
      u,
      o,
      x ** n,
      c1 === 0 ? 0 : c1 * x ** (n - 1),
      c2 === 0 ? 0 : c2 * x ** (n - 2),
      c3 === 0 ? 0 : c3 * x ** (n - 3),
    );
  };
};
