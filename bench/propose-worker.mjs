// A worker of the proposals benchmark: loads TypeScript through tsx, then judges its share of the candidates.
import { parentPort, workerData } from 'node:worker_threads';
import { register } from 'tsx/esm/api';

register();
const { judgeCandidate, planCandidates } = await import('@yoke/core');
const { machine, first, every } = workerData;
const axis = machine.axes[0];
/** @type {import('@yoke/core').ProposalTask} */
const task = { axisId: axis.id, goal: 'peak', oscillator: null, motor: null };
const candidates = planCandidates(axis, 'peak');
parentPort?.on('message', () => {
  candidates.forEach((candidate, i) => {
    if (i % every === first) judgeCandidate(machine, task, candidate);
  });
  parentPort?.postMessage('done');
});
parentPort?.postMessage('ready');
