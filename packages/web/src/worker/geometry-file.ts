import {
  examined,
  inUnit,
  readGeometry,
  readMachineZip,
  type ExaminedFile,
  type MachineZip,
} from '@yoke/core/geometry-file';
import { sizeOf } from '@yoke/core/solid';
import { expose, transfer } from 'comlink';
import makeKernel from 'occt-import-js';
import kernelCode from 'occt-import-js/dist/occt-import-js.wasm?url';

/** What must be known before lengths can be taken: how large the largest solid is in the unit of the file. */
export interface UnitQuestion {
  size: number;
}

/** Reads files of geometry on a thread of its own, which ends with the reading: a file may take much memory. */
const worker = {
  /**
   * @param askUnit asked where the file does not say what one is; answers metres
   * @param progress is told the share done, 0 to 1
   */
  async read(
    content: Uint8Array,
    fileName: string,
    askUnit: (question: UnitQuestion) => Promise<number>,
    progress: (share: number) => void,
  ): Promise<ExaminedFile> {
    const kernel = () => makeKernel({ locateFile: () => kernelCode, print: () => undefined, printErr: () => undefined }); // prettier-ignore
    let geometry = await readGeometry(content, fileName, kernel);
    progress(0.4);
    if (!geometry.metres)
      geometry = inUnit(geometry, await askUnit({ size: Math.max(...geometry.solids.map(({ mesh }) => sizeOf(mesh))) })); // prettier-ignore
    let told = 0;
    const file = await examined(geometry, (share) => {
      if (share - told < 0.02 && share < 1) return;
      told = share;
      progress(0.4 + 0.6 * share);
    });
    return transfer(file, [file.content.buffer]);
  },
  /** A machine that was saved with its shapes. */
  readZip: (content: Uint8Array): MachineZip => readMachineZip(content),
};

export type GeometryFileWorker = typeof worker;
expose(worker);
