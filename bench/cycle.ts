// The simulated cycle: machine time per wall time, its growth with loose parts, and many runs on one and two threads.
import { readFileSync } from 'node:fs';
import {
  emptyLoose,
  loadContact,
  machineText,
  newMachine,
  readMachineText,
  simulateCycle,
  studyDraws,
  type Machine,
  type StudyDraw,
} from '@yoke/core';
import { Piscina } from 'piscina';
import { boxKind } from '../packages/core/test/loose';
import { overLibrary } from './library-alone';

/** Parts that fall into a bin and come to rest there, all released in the first second. */
function bin(parts: number): Machine {
  const machine = newMachine('Bin');
  const side = Math.sqrt(parts) * 0.03;
  machine.loose = {
    ...emptyLoose(),
    materials: [{ id: 'm', name: 'wood' }],
    pairs: [{ id: 'p', a: 'm', b: 'm', friction: 0.4, restitution: 0.2 }],
    kinds: [boxKind({ id: 'k', name: 'Block', material: 'm' }, 0.02, 0.02, 0.01)],
    surfaces: [
      {
        id: 's',
        name: 'Bin',
        body: 'ground',
        material: 'm',
        line: [
          [-side, 2],
          [-side, 0],
          [side, 0],
          [side, 2],
        ],
        thickness: 0.02,
      },
    ],
    sources: Array.from({ length: parts }, (_, i) => {
      const columns = Math.floor((2 * side) / 0.03) - 1;
      return {
        id: `q${i}`,
        name: `Source ${i}`,
        kind: 'k',
        body: 'ground',
        at: [-side + 0.03 * (1 + (i % columns)), 0.05 + 0.03 * Math.floor(i / columns)] as [number, number],
        angle: 0,
        velocity: [0, 0] as [number, number],
        release: { how: 'times' as const, times: [0.01 + (i % 50) / 50] },
        scatter: { time: 0, place: 0, angle: 0.2 },
      };
    }).slice(0, 60),
  };
  // More than sixty sources are not allowed: each releases several parts, one after the other.
  const each = Math.ceil(parts / machine.loose.sources.length);
  for (const source of machine.loose.sources)
    source.release = { how: 'times', times: Array.from({ length: each }, (_, i) => 0.01 + 0.25 * i) };
  machine.sequence.cycle.most = 5;
  return machine;
}

/** Machine time over wall time of a run, the best of some. */
function ratio(machine: Machine, times: number): number {
  let best = 0;
  for (let i = 0; i < times; i++) {
    const begun = performance.now();
    const { record } = simulateCycle(machine);
    best = Math.max(best, (record.duration * 1000) / (performance.now() - begun));
  }
  return best;
}

export async function benchCycle(): Promise<void> {
  await loadContact();
  const read = readMachineText(
    readFileSync(new URL('../demo/seedling-transplanter.yoke.json', import.meta.url), 'utf8'),
  );
  if (!read.ok) throw new Error('the transplanter does not open');
  const transplanter = read.machine;
  simulateCycle(transplanter);
  console.log(`seedling transplanter: ${ratio(transplanter, 3).toFixed(1)} times real time (aim: 50)`);
  const { cycle, library } = await overLibrary(transplanter, 5);
  console.log(
    `the same cycle ${cycle.toFixed(0)} ms, the physics library alone for it ${library.toFixed(0)} ms: ${(cycle / library).toFixed(2)} times (wanted: 1.5)`,
  );
  for (const parts of [10, 100, 500])
    console.log(
      `${parts} loose parts in a bin, steps of 2 ms: ${ratio(bin(parts), 1).toFixed(1)} times real time (wanted: 1)`,
    );
  await manyRuns(transplanter);
  longRun(transplanter);
}

/** Scattered runs that are timed. */
const SCATTERED = 40;

async function manyRuns(machine: Machine): Promise<void> {
  const draws = studyDraws({ runs: SCATTERED, seed: 1, sensorDelay: 0.01, friction: 0.1, torques: false });
  const text = machineText(machine);
  const wall = async (threads: number) => {
    const pool = new Piscina({
      filename: new URL('../packages/server/dist/study-worker.js', import.meta.url).href,
      minThreads: threads,
      maxThreads: threads,
    });
    // Threads are warm before the clock starts, as in a server that runs.
    const run = (draw: StudyDraw) => pool.run({ study: 'bench', text, draw, torques: false });
    await Promise.all(draws.slice(0, threads).map(run));
    const begun = performance.now();
    await Promise.all(draws.map(run));
    const time = performance.now() - begun;
    await pool.destroy();
    return time;
  };
  const [one, two] = [await wall(1), await wall(2)];
  console.log(
    `${SCATTERED} scattered runs: ${(one / 1000).toFixed(1)} s on one thread, ${(two / 1000).toFixed(1)} s on two (ratio ${(one / two).toFixed(2)})`,
  );
}

/** Ten minutes of machine time with parts that come and go: time and memory. */
function longRun(transplanter: Machine): void {
  const machine: Machine = structuredClone(transplanter);
  machine.sequence.cues = [];
  machine.sequence.interlocks = [];
  machine.sequence.monitors = [];
  machine.sequence.sensors = machine.sequence.sensors.filter(({ sensing }) => sensing.kind === 'beam');
  machine.sequence.emergency.when = null;
  machine.sequence.cycle = { starts: null, cycles: null, most: 600 };
  const [source] = machine.loose.sources;
  source!.release = { how: 'interval', first: 0.1, interval: 1.5, count: null };
  for (const belt of machine.loose.belts) belt.drive = { by: 'speed', speed: 0.15, running: true };
  machine.loose.grippers = [];
  machine.loose.solids = [];
  const begun = performance.now();
  const { record } = simulateCycle(machine);
  const seconds = (performance.now() - begun) / 1000;
  const memory = process.memoryUsage().rss / 2 ** 20;
  console.log(
    `ten minutes of machine time, ${record.fates.length} parts: ${(record.duration / seconds).toFixed(1)} times real time, ${memory.toFixed(0)} MiB in all (wanted: below 1024)`,
  );
}
