import { drive, weigh } from '../../test/mechanisms';
import { addBar, addCam, addDisc, addElement, addJoint, addPath, bodyPoint, groundPoint, newMachine, type Joint, type Machine } from '../machine'; // prettier-ignore
import { liftOffSpeed } from './lift-off';

const ECCENTRICITY = 0.01;
const MASS = 0.5;

/** A flat follower on an eccentric disc, held by a spring that presses with 20 N at the top; Y = R + e cos φ. */
function eccentric(speed: number, preload = 20): { machine: Machine; cam: Joint } {
  const machine = newMachine('Cam');
  machine.cycle = { given: 'time', time: (2 * Math.PI) / speed };
  const m = machine.mechanism;
  m.gravity.on = false;
  const disc = weigh(addDisc(m, [0, 0], 0.03), 1, [0, 0], 1e-3);
  const follower = weigh(addBar(m, [0, 0.04], [0, 0.09]), MASS, [0, 0], 1e-3);
  const pin = addJoint(m, 'pin', groundPoint(m, [0, 0]), bodyPoint(m, disc.id, [0, 0]));
  addJoint(m, 'slide', groundPoint(m, [0, 0]), bodyPoint(m, follower.id, [0, 0.04]), { direction: Math.PI / 2 });
  const outline = addPath(m, disc.id, { kind: 'circle', centre: [0, ECCENTRICITY], radius: 0.03 });
  const cam = addCam(m, outline.id, bodyPoint(m, follower.id, [0, 0.04]), { kind: 'flat', angle: -Math.PI / 2 });
  const a = groundPoint(m, [0, 0.14]);
  // Drawn at the top, 100 mm long: half a newton less each millimetre lower.
  addElement(m, { kind: 'spring', a, b: { body: follower.id, point: 'p1' }, rate: 500, free: 0.1 + preload / 500 });
  drive(machine, pin, { kind: 'constant', value: speed });
  return { machine, cam };
}

describe('speed at which a cam lets go of its follower', () => {
  /** By hand: at the top the spring presses with 20 N, the mass asks for m e ω². */
  const critical = Math.sqrt(20 / (MASS * ECCENTRICITY));

  test.each([20, 200])('is where the spring gives what the mass asks for, from %p rad/s', async (speed) => {
    const { machine, cam } = eccentric(speed);
    const found = await liftOffSpeed(machine, cam.id);
    if (typeof found === 'string') throw new Error(found);
    expect(found.now).toBe(speed < critical ? 'kept' : 'lost');
    expect((found.speed * speed) / critical).toBeGreaterThan(1);
    expect((found.speed * speed) / critical).toBeLessThan(1.0011);
    expect(found.cycle).toBeCloseTo((2 * Math.PI) / (found.speed * speed), 9);
    // Highest at the start of the cycle, or at its end.
    expect(Math.sin((Math.PI * found.time) / found.cycle)).toBeCloseTo(0, 2);
  });

  test('a groove never lets go, and a spring that pulls never holds', async () => {
    const { machine, cam } = eccentric(20);
    if (cam.kind === 'cam') cam.closure = 'groove';
    expect(await liftOffSpeed(machine, cam.id)).toMatch(/held by force/);
    const pulls = eccentric(20, -20);
    expect(await liftOffSpeed(pulls.machine, pulls.cam.id)).toMatch(/even at 64 times the cycle time/);
  });

  test('what is wrong beside it is said with the speed at which it was tried', async () => {
    const { machine, cam } = eccentric(20);
    const rail = machine.mechanism.joints.find(({ kind }) => kind === 'slide')!;
    drive(machine, rail, { kind: 'constant', value: 0 }, 'position');
    expect(await liftOffSpeed(machine, cam.id)).toMatch(/times the speed/);
  });
});
