import { cycleTime, newAxis, newMachine, readMachine, type Axis, type Machine } from '../machine';
import { checkAxisMotion, MachineMotions, movingMachine, remediesFor, type PlanFinding } from './index';

function machineWith(change: (axis: Axis, machine: Machine) => void): Machine {
  const machine = newMachine('M');
  machine.cycle = { given: 'time', time: 2 };
  const axis = newAxis('linear', [], 2);
  machine.axes = [axis];
  change(axis, machine);
  return machine;
}
const findings = (machine: Machine): PlanFinding[] => {
  const axis = machine.axes[0]!;
  return checkAxisMotion(axis, new MachineMotions(movingMachine(machine)).of(axis.id), {
    cycleTime: cycleTime(machine),
    limits: axis.limits,
    travel: axis.travel,
    oneOff: machine.oneOff,
  });
};
/** Applies the remedy of a label, and holds the machine to the schema. */
function mend(machine: Machine, code: PlanFinding['code'], label: string | RegExp): Machine {
  const finding = findings(machine).find((f) => f.code === code);
  if (!finding)
    throw new Error(
      `no ${code} among ${findings(machine)
        .map((f) => f.code)
        .join(', ')}`,
    );
  const remedy = remediesFor(finding, machine.axes[0]!, machine).find((r) =>
    typeof label === 'string' ? r.label === label : label.test(r.label),
  );
  if (!remedy)
    throw new Error(
      `no remedy among ${remediesFor(finding, machine.axes[0]!, machine)
        .map((r) => r.label)
        .join(', ')}`,
    );
  const mended = remedy.apply(machine);
  const read = readMachine(mended);
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return mended;
}

describe('one click mends it', () => {
  test.each<[string, PlanFinding['code'], string | RegExp, (axis: Axis, machine: Machine) => void]>([
    ['a limit, by a longer segment', 'limit', 'Lengthen', (axis) => void (axis.limits.acceleration = 2)],
    [
      'a limit, by another law',
      'limit',
      /^Take /,
      (axis) => (
        (axis.limits.acceleration = 2.05),
        ((axis.plan.segments[0] as { law: object }).law = { id: 'poly4567' })
      ),
    ],
    [
      'a step of the acceleration',
      'jump',
      /Polynomial 3-4-5/,
      (axis) => void ((axis.plan.segments[0] as { law: object }).law = { id: 'quadratic' }),
    ],
    [
      'a plan that does not close',
      'not-closed',
      'Come back to the start',
      (axis) => void axis.plan.segments.splice(2, 2),
    ],
    ['a plan that need not close', 'not-closed', 'It runs once', (axis) => void axis.plan.segments.splice(2, 2)],
    [
      'a plan too long, by the cycle',
      'plan-too-long',
      'Lengthen the cycle',
      (axis) => void (axis.plan.segments[1]!.duration = 3),
    ],
    [
      'a plan too long, by fitting it',
      'plan-too-long',
      'Fit to the cycle',
      (axis) => void (axis.plan.segments[1]!.duration = 3),
    ],
    ['a plan too short', 'plan-short', 'Fit to the cycle', (axis) => void axis.plan.segments.pop()],
    [
      'a stop that is run past',
      'travel',
      'Stop at the end of travel',
      (axis) => void (axis.travel = { min: 0, max: 0.15 }),
    ],
    [
      'harmonic without whole periods',
      'seam',
      'Whole periods',
      (axis) =>
        void (axis.motion = {
          ...axis.motion,
          source: { kind: 'harmonic', mean: 0.1, amplitude: 0.05, frequency: 0.8, phase: 0 },
        }),
    ],
    [
      'a start away from home',
      'home',
      'Make it the home position',
      (axis) => void (axis.motion = { ...axis.motion, source: { kind: 'constant', value: 0.1 } }),
    ],
    [
      'a table with corners',
      'break',
      'Take a quintic spline',
      (axis) =>
        void (axis.motion = {
          ...axis.motion,
          source: {
            kind: 'points',
            way: 'line',
            ends: 'rest',
            tolerance: 0,
            rows: [
              [0, 0],
              [1, 0.1],
              [2, 0],
            ],
          },
        }),
    ],
    [
      'a table too quick',
      'over-limit',
      'Stretch the table',
      (axis) => (
        (axis.limits.velocity = 0.2),
        (axis.motion = {
          ...axis.motion,
          source: {
            kind: 'points',
            way: 'quintic',
            ends: 'rest',
            tolerance: 0,
            rows: [
              [0, 0],
              [0.5, 0.1],
              [1, 0],
            ],
          },
        })
      ),
    ],
  ])('%s', (_name, code, label, change) => {
    const mended = mend(machineWith(change), code, label);
    // Two segments may be at fault alike; a remedy mends the one it was asked for.
    const count = (m: Machine) => findings(m).filter((f) => f.code === code).length;
    expect(count(mended)).toBeLessThan(count(machineWith(change)));
  });

  test('an engagement that would jump is bridged', () => {
    const machine = machineWith((axis) => {
      axis.motion = {
        ...axis.motion,
        over: 'master',
        source: { kind: 'formula', text: '40 mm * sin(master) + 60 mm' },
        engage: { at: 1, leave: null, waits: 0, lead: { how: 'refuse' }, restsAt: null },
      };
    });
    expect(findings(mend(machine, 'engage', 'Bridge it')).some(({ code }) => code === 'engage')).toBe(false);
  });
});
