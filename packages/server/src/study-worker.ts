import {
  describeProblems,
  loadContact,
  readMachineText,
  studyRun,
  type Machine,
  type StudyDraw,
  type StudyRun,
} from '@yoke/core';

/** One task of a study: one draw of one machine, run on a thread of the pool. */
export interface StudyTask {
  study: string;
  /** The document as text: sent cheaply, read once for all runs of a study. */
  text: string;
  draw: StudyDraw;
  torques: boolean;
}

/** The machine read last on this thread. */
let known: { study: string; machine: Machine } | null = null;

export default async function run({ study, text, draw, torques }: StudyTask): Promise<StudyRun> {
  if (known?.study !== study) {
    // A study gone on with after an update of Yoke may hold a document of an older version.
    const read = readMachineText(text);
    if (!read.ok) throw new Error(describeProblems(read.problems));
    known = { study, machine: read.machine };
  }
  await loadContact(known.machine);
  return studyRun(known.machine, draw, torques);
}
