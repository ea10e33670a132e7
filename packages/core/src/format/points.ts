import { cycleTime, movingMachine, type Axis, type Machine } from '../machine';
import { MachineMotions, motionAt } from '../motion';
import { AXIS_KINDS, displayUnit, toDisplay } from '../quantity';
import { heading, writeCsv } from './csv';

/**
 * The plan of one axis as a point table for a controller: evenly spaced times over one cycle,
 * the end included, with master angle (0 to 360°), position, velocity and acceleration.
 * @param intervals number of equal intervals; one more row than that is written
 */
export function pointTableCsv(machine: Machine, axis: Axis, intervals: number): string {
  const duration = cycleTime(machine);
  const { motion } = new MachineMotions(movingMachine(machine)).of(axis.id);
  const kinds = AXIS_KINDS[axis.kind];
  const fields = ['position', 'velocity', 'acceleration'] as const;
  const header = [
    'point',
    heading('t', 's'),
    heading('master', '°'),
    ...fields.map((field) => heading(field, displayUnit(kinds[field], machine.units).symbol)),
  ];
  const rows = Array.from({ length: intervals + 1 }, (_, k) => {
    const time = (duration * k) / intervals;
    const state = motionAt(motion, time);
    return [
      k,
      Number(time.toPrecision(12)),
      Number(((360 * k) / intervals).toPrecision(12)),
      ...fields.map((field) => Number(toDisplay(state[field], kinds[field], machine.units).toPrecision(12))),
    ];
  });
  return writeCsv(header, rows);
}
