import { channelsOf, drive, RAD } from '../../test/mechanisms';
import { planOf } from '../../test/plans';
import { addBar, addJoint, bodyPoint, groundPoint, newAxis, newMachine, readMachine, type Joint, type Machine } from '../machine'; // prettier-ignore
import { camFromAxis, camFromPoint, drawCam } from './cam';
import { simulate } from './simulate';

/** A lever of 70 mm on a pivot 80 mm beside the cam, that swings by 15° and back. */
function swinging(): { machine: Machine; hinge: Joint; tip: { body: string; point: string } } {
  const machine = newMachine('Lever');
  machine.cycle = { given: 'time', time: 1 };
  const m = machine.mechanism;
  m.gravity.on = false;
  const at = [0.08 + 0.07 * Math.cos(150 * RAD), 0.07 * Math.sin(150 * RAD)] as const;
  const lever = addBar(m, [0.08, 0], at, 'Lever');
  const hinge = addJoint(m, 'pin', groundPoint(m, [0.08, 0]), bodyPoint(m, lever.id, [0.08, 0]));
  const axis = drive(machine, hinge, { kind: 'plan' }, 'position');
  axis.plan = planOf('cycloidal', [0.5, -15 * RAD], [0.5, 0]);
  return { machine, hinge, tip: bodyPoint(m, lever.id, at) };
}

describe('a cam from a motion', () => {
  test.each([
    ['anticlockwise', 1],
    ['clockwise', -1],
  ] as const)('a swinging lever that was led by its own drive is led alike by a cam turning %s', (_name, sense) => {
    const { machine, hinge, tip } = swinging();
    const before = simulate(machine);
    const made = camFromPoint(machine, before, tip, [0, 0], { roller: 0.01, sense });
    if (typeof made === 'string') throw new Error(made);
    expect(made.undercut).toEqual([]);
    const { off } = drawCam(machine, made, [0, 0], { place: tip, run: before, roller: 0.01, sense });
    expect(off).toHaveLength(1);
    expect(readMachine(machine)).toMatchObject({ ok: true });
    expect(machine.axes).toHaveLength(1);
    const after = simulate(machine);
    expect(after.mechanism!.findings.filter(({ code }) => code !== 'lift-off')).toEqual([]);
    const angle = channelsOf(after, hinge).position!;
    const wanted = (time: number) => {
      const up = time < 0.5 ? 2 * time : 2 - 2 * time;
      // Cycloidal: s = x − sin(2πx)/2π (VDI 2143).
      return -15 * RAD * (up - Math.sin(2 * Math.PI * up) / (2 * Math.PI));
    };
    after.times.forEach((time, k) => expect(angle[k]! / RAD).toBeCloseTo(wanted(time) / RAD, 2));
  });

  test('of a point is that of the axis for a slide in line with its centre', () => {
    const machine = newMachine('Slide');
    machine.cycle = { given: 'time', time: 1 };
    const m = machine.mechanism;
    const bar = addBar(m, [0, 0.04], [0, 0.1]);
    const slide = addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, bar.id, [0, 0.04]), { direction: Math.PI / 2 }); // prettier-ignore
    const axis = drive(machine, slide, { kind: 'plan' }, 'position');
    axis.plan = planOf('harmonic', [0.5, 0.02], [0.5, 0]);
    const run = simulate(machine);
    const size = { roller: 0.008, sense: 1 as const };
    const [one, other] = [
      camFromAxis(run, axis.id, { ...size, base: 0.04, lever: null }),
      camFromPoint(machine, run, { body: bar.id, point: bar.points[0]!.id }, [0, 0], size),
    ];
    if (typeof one === 'string' || typeof other === 'string') throw new Error();
    one.outline.forEach(([x, y], i) => {
      expect(other.outline[i]![0]).toBeCloseTo(x, 6);
      expect(other.outline[i]![1]).toBeCloseTo(y, 6);
    });
    expect(other.pressure.angle).toBeCloseTo(one.pressure.angle, 2);
  });

  test('of a rotary axis: the roller’s centre stays on the lever’s circle, and rests where it was said to', () => {
    const machine = newMachine('Turns');
    machine.cycle = { given: 'time', time: 1 };
    const axis = newAxis('rotary', [], 1);
    axis.plan = planOf('poly345', [0.4, 20 * RAD], [0.2], [0.4, 0]);
    machine.axes.push(axis);
    const run = simulate(machine);
    const wish = { roller: 0, sense: 1 as const, base: 0.04 };
    const found = camFromAxis(run, axis.id, { ...wish, lever: { distance: 0.08, length: 0.07 } });
    if (typeof found === 'string') throw new Error(found);
    const far = found.outline.map(([x, y]) => Math.hypot(x, y));
    expect(Math.min(...far)).toBeCloseTo(0.04, 6);
    // By the law of cosines at 20° more than the triangle of 80, 70 and 40 mm has at the pivot.
    const rest = Math.acos((0.08 ** 2 + 0.07 ** 2 - 0.04 ** 2) / (2 * 0.08 * 0.07));
    const most = Math.sqrt(0.08 ** 2 + 0.07 ** 2 - 2 * 0.08 * 0.07 * Math.cos(rest + 20 * RAD));
    expect(Math.max(...far)).toBeCloseTo(most, 6);
    expect(camFromAxis(run, axis.id, { ...wish, lever: { distance: 0.2, length: 0.07 } })).toMatch(/does not reach/);
  });

  test('where none can be made it says why', () => {
    const { machine, tip } = swinging();
    const size = { roller: 0.01, sense: 1 as const };
    const run = simulate(machine);
    const hinge = { body: tip.body, point: 'p1' };
    expect(camFromPoint(machine, run, hinge, [0, 0], size)).toMatch(/does not move/);
    expect(camFromPoint(machine, run, tip, [0, 0], { ...size, roller: 0.1 })).toMatch(/over the centre/);
    machine.axes[0]!.plan = planOf('cycloidal', [1, 0.2]);
    expect(camFromPoint(machine, simulate(machine), tip, [0, 0], size)).toMatch(/does not come back/);
    expect(camFromAxis(run, 'none', { ...size, base: 0.04, lever: null })).toMatch(/does not move/);
  });
});
