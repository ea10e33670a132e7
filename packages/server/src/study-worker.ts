import { loadContact, studyRun, type Machine, type StudyDraw, type StudyRun } from '@yoke/core';

/** One task of a study: some draws of one machine, run on a thread of the pool. */
export interface StudyTask {
  machine: Machine;
  draws: StudyDraw[];
  torques: boolean;
}

export default async function run({ machine, draws, torques }: StudyTask): Promise<StudyRun[]> {
  await loadContact();
  return draws.map((draw) => studyRun(machine, draw, torques));
}
