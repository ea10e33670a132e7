import {
  checkSheet,
  compareMotions,
  confirmProposals,
  dutyOf,
  isHeldBack,
  liftOffSpeed,
  rankMotors,
  readCatalogue,
  runLead,
  runMachine,
  type Machine,
  type MotionOption,
  type Motor,
  type PathLead,
} from '@yoke/core';
import { facesOf, type Mesh } from '@yoke/core/solid';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';

/** Motors of the demonstration. */
export const motors = readCatalogue(readFileSync(join(__dirname, '../../../demo/motors.csv'), 'utf8'));

/** The worker of the page, in the page: it computes with the same core, at once. To be imported before what is tested. */
const worker = {
  catalogue: [] as Motor[],
  /** What the next run says instead of a result. */
  failure: null as string | null,
};
export const failNextRun = (message: string): void => void (worker.failure = message);

jest.mock('comlink', () => ({
  proxy: <T>(callback: T): T => callback,
  wrap: () => ({
    setCatalogue: async (catalogue: Motor[]) => void (worker.catalogue = catalogue),
    async run(machine: Machine) {
      const said = worker.failure;
      worker.failure = null;
      if (said !== null) throw new Error(said);
      const { run, record, findings } = await runMachine(machine, { motors: worker.catalogue });
      return { key: JSON.stringify(machine), from: 'computed', findings, result: { run, record } };
    },
    async rank(machine: Machine) {
      const { run } = await runMachine(machine, { motors: worker.catalogue });
      return Object.fromEntries(
        machine.axes.map((axis, i) => {
          const own = run.axes[i]!;
          return [
            axis.id,
            isHeldBack(own) ? [] : rankMotors(worker.catalogue, dutyOf(axis, own, run.times), axis.sizing),
          ];
        }),
      );
    },
    check: async (machine: Machine) => checkSheet(machine),
    compare: (machine: Machine, axisId: string, options: MotionOption[]) => compareMotions(machine, axisId, options),
    lead: async (machine: Machine, lead: PathLead) => runLead(machine, lead),
    liftOff: (machine: Machine, jointId: string) => liftOffSpeed(machine, jointId),
    confirm: confirmProposals,
    faces: async (mesh: Mesh) => facesOf(mesh).faces,
  }),
}));
Reflect.deleteProperty(globalThis, 'BroadcastChannel');
Object.assign(globalThis, { Worker: jest.fn(() => ({ terminate: () => undefined })) });
