import type { StepKernel } from '../src/geometry-file';

/** Makes the kernel that reads STEP files; what it prints by the way can be taken from it. */
export default function makeKernel(options?: {
  locateFile?(name: string): string;
  print?(line: string): void;
  printErr?(line: string): void;
}): Promise<StepKernel>;
