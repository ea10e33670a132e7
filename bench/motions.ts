// Motions of all kinds: sampling, compiled formulas, optimal profiles, proposals on one and two workers.
import { Worker } from 'node:worker_threads';
import {
  compileFormula,
  LENGTH,
  ANGLE,
  INPUT,
  MachineMotions,
  movingMachine,
  newAxis,
  newMachine,
  planCandidates,
  motionBlocks,
  planFormula,
  motionPoints,
  sampleMotion,
  servoProfile,
  type Axis,
  type Machine,
  type Motion,
} from '@yoke/core';
import { median } from './median';

const POINTS = 10_000;
const AXES = 20;

/** Twenty axes, led in turn by plan, servo moves, formula, table and the master. */
function mixed(): Machine {
  const machine = newMachine('Mixed');
  machine.cycle = { given: 'time', time: 2 };
  for (let i = 0; i < AXES; i++) {
    const axis = newAxis('linear', machine.axes, 2);
    axis.name = `Axis ${i}`;
    axis.limits = { velocity: 2, acceleration: 20, jerk: 500 };
    const plan = axis.plan;
    const own = new MachineMotions({ ...movingMachine(machine), axes: [axis] }).of(axis.id).motion;
    const sources: Axis['motion']['source'][] = [
      { kind: 'plan' },
      { kind: 'moves', blocks: motionBlocks(own, axis.limits) },
      { kind: 'formula', text: planFormula(plan, 'linear', 'metric') },
      { kind: 'points', rows: motionPoints(own, 101), way: 'quintic', ends: 'rest', tolerance: 0 },
      { kind: 'follow', axis: null, ratio: 0.03, offset: 0 },
    ];
    axis.motion = { ...axis.motion, source: sources[i % sources.length]! };
    machine.axes.push(axis);
  }
  return machine;
}

function benchSampling(): void {
  const machine = mixed();
  const motions = new MachineMotions(movingMachine(machine));
  const all = machine.axes.map(({ id }) => motions.of(id).motion);
  const times = Float64Array.from({ length: POINTS }, (_, k) => (2 * k) / (POINTS - 1));
  const planned = all.filter((_, i) => i % 5 === 0);
  const sample = (list: readonly Motion[]) => list.forEach((motion) => sampleMotion(motion, times));
  const [ours, plans] = [median(() => sample(all)) / AXES, median(() => sample(planned)) / planned.length];
  console.log(
    `sampling 20 axes of mixed motions, 10,000 points: ${(ours * AXES).toFixed(1)} ms, ${ours.toFixed(2)} ms an axis; plans alone ${plans.toFixed(2)} ms an axis; ratio ${(ours / plans).toFixed(1)}`,
  );
}

/** A formula as an engineer writes it, against the same with its three derivatives written out by hand. */
function benchFormula(): void {
  const text = '80 mm * rise(t, 0.2 s, 0.7 s, cycloidal) + 5 mm * sin(6 pi t / T) * exp(-t / (0.5 s))';
  const formula = compileFormula(text, {
    cycleTime: 2,
    master: ANGLE,
    axes: [{ name: 'A', dimension: LENGTH }],
    constants: new Map(),
  });
  const inputs = new Float64Array(formula.inputs);
  inputs[INPUT.time + 1] = 1;
  const out = new Float64Array(4);
  let sink = 0;
  const ours = () => {
    for (let k = 0; k < POINTS; k++) {
      inputs[INPUT.time] = (2 * k) / POINTS;
      formula.evaluate(inputs, out, 0);
      sink += out[3]!;
    }
  };
  const w = (6 * Math.PI) / 2;
  const hand = () => {
    for (let k = 0; k < POINTS; k++) {
      const t = (2 * k) / POINTS;
      const tau = (t - 0.2) / 0.5;
      let [p, v, a, j] = [0, 0, 0, 0];
      if (tau >= 1) p = 0.08;
      else if (tau > 0) {
        const [s, c] = [Math.sin(2 * Math.PI * tau), Math.cos(2 * Math.PI * tau)];
        p = 0.08 * (tau - s / (2 * Math.PI));
        v = (0.08 / 0.5) * (1 - c);
        a = (0.08 / 0.25) * 2 * Math.PI * s;
        j = (0.08 / 0.125) * 4 * Math.PI * Math.PI * c;
      }
      const e = 0.005 * Math.exp(-t / 0.5);
      const d = -2;
      const [s, c] = [Math.sin(w * t), Math.cos(w * t)];
      p += e * s;
      v += e * (d * s + w * c);
      a += e * (d * d * s + 2 * d * w * c - w * w * s);
      j += e * (d ** 3 * s + 3 * d * d * w * c - 3 * d * w * w * s - w ** 3 * c);
      sink += j + p + v + a;
    }
  };
  const rounds = [0, 1, 2].map(() => ({ ours: median(ours), hand: median(hand) }));
  const [a, b] = [Math.min(...rounds.map((r) => r.ours)), Math.min(...rounds.map((r) => r.hand))];
  console.log(
    `compiled formula with three derivatives, 10,000 points: ${a.toFixed(2)} ms; written by hand: ${b.toFixed(2)} ms; ratio ${(a / b).toFixed(2)} (wanted: at most 5)${Number.isNaN(sink) ? '!' : ''}`,
  );
}

function benchProfiles(): void {
  const MOVES = 2000;
  const limits = Array.from({ length: MOVES }, (_, i) => ({
    velocity: 0.1 + (i % 7) * 0.3,
    acceleration: 1 + (i % 11),
    deceleration: 1 + (i % 5),
    jerk: 20 + (i % 13) * 40,
  }));
  let sink = 0;
  const ours = median(() => limits.forEach((l, i) => (sink += servoProfile(0.001 * (1 + i), l).time)));
  const plain = median(() => limits.forEach((l, i) => (sink += 2 * Math.sqrt((0.001 * (1 + i)) / l.acceleration))));
  console.log(
    `optimal profile with asymmetric ramps and jerk: ${((ours / MOVES) * 1000).toFixed(2)} µs a move; the one-line triangle ${((plain / MOVES) * 1e6).toFixed(0)} ns; ratio ${(ours / plain).toFixed(0)}${sink > 0 ? '' : '!'}`,
  );
}

/** Time in ms that workers take for all candidates, once they are loaded; the second of two turns, when they are warm. */
async function inWorkers(machine: Machine, count: number): Promise<number> {
  const workers = Array.from(
    { length: count },
    (_, first) =>
      new Worker(new URL('./propose-worker.mjs', import.meta.url), { workerData: { machine, first, every: count } }),
  );
  const answers = () =>
    Promise.all(
      workers.map(
        (worker) =>
          new Promise<void>((resolve, reject) => {
            worker.once('message', () => resolve());
            worker.once('error', reject);
          }),
      ),
    );
  await answers();
  let took = 0;
  for (let turn = 0; turn < 2; turn++) {
    const start = performance.now();
    const done = answers();
    workers.forEach((worker) => worker.postMessage('go'));
    await done;
    took = performance.now() - start;
  }
  await Promise.all(workers.map((worker) => worker.terminate()));
  return took;
}

async function benchProposals(): Promise<void> {
  const machine = newMachine('Proposals');
  machine.cycle = { given: 'time', time: 2 };
  machine.axes.push(newAxis('linear', [], 2));
  const { length } = planCandidates(machine.axes[0]!, 'peak');
  const [one, two] = [await inWorkers(machine, 1), await inWorkers(machine, 2)];
  console.log(
    `proposals, ${length} candidates, workers loaded and warm: ${(one / 1000).toFixed(2)} s on one worker, ${(two / 1000).toFixed(2)} s on two; ratio ${(one / two).toFixed(2)}`,
  );
}

/** Prints the figures of the motions. */
export async function benchMotions(): Promise<void> {
  benchSampling();
  benchFormula();
  benchProfiles();
  await benchProposals();
}
