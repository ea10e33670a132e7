import {
  checkSheet,
  otherClosures,
  readDxf,
  readForceTable,
  readMachineText,
  readSvg,
  type AxisKind,
  type ForceTable,
  type Machine,
  type Mechanism,
  type OtherPose,
  type OutlineDrawing,
  type ReadResult,
  type SheetFinding,
  type UnitSystem,
} from '@yoke/core';
import { expose } from 'comlink';

/** What is read, checked and searched beside the run: files from elsewhere, the cue sheet, closures of the drawing. */
const worker = {
  /** Reads a DXF or SVG drawing, by the ending of its name; tells the share done now and then. */
  readDrawing: (text: string, fileName: string, progress: (share: number) => void): OutlineDrawing =>
    /\.svg$/i.test(fileName) ? readSvg(text, progress) : readDxf(text, progress),
  readForceTable: (text: string, kind: AxisKind, units: UnitSystem): ForceTable => readForceTable(text, kind, units),
  readMachine: (text: string): ReadResult => readMachineText(text),
  checkSheet: (machine: Pick<Machine, 'sequence' | 'axes'>): SheetFinding[] => checkSheet(machine),
  otherClosures: (mechanism: Mechanism, joint: string, driven: readonly string[]): OtherPose[] | string =>
    otherClosures(mechanism, joint, driven),
};

export type AsideWorker = typeof worker;
expose(worker);
