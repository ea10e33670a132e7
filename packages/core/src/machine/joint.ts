import { z } from 'zod';
import type { QuantityKind } from '../quantity';
import { field, type Thing } from './field';
import { offer, type Offers } from './kinds';
import { finite, id, name, notNegative, size } from './parts';
import { pair, place } from './place';
import { refTo } from './refer';

/** One quantity for a joint that turns, another for one that slides. */
const ofKind =
  (turning: QuantityKind, sliding: QuantityKind) =>
  ({ kind }: Thing) =>
    kind === 'pin' ? turning : sliding;

const friction = z.strictObject({
  coulomb: field(notNegative.meta({ description: 'Constant friction: N·m of a pin, N of others' }), 'Friction', {
    quantity: ofKind('torque', 'force'),
  }),
  viscous: field(
    notNegative.meta({ description: 'Friction that grows with speed: N·m·s/rad of a pin, N·s/m of others' }),
    'Viscous',
    { quantity: ofKind('angularDamping', 'linearDamping') },
  ),
});
const zero = finite.meta({ description: 'Taken off the measured angle or length, so that the axis reads as wanted' });
const velocity = field(
  finite.optional().meta({
    description: 'Of its position when the run begins, where forces move it, m/s or rad/s; else it is let go',
  }),
  'Velocity at the start',
  {
    quantity: ofKind('angularVelocity', 'velocity'),
    none: 'let go',
    hint: 'Where forces move it: how it begins',
    when: (joint, around) => !around.driven(joint.id),
  },
);

const follower = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('tip') }),
  z.strictObject({ kind: z.literal('roller'), radius: field(size, 'Roller radius', { quantity: 'length' }) }),
  z.strictObject({
    kind: z.literal('flat'),
    angle: field(
      finite.meta({ description: 'Direction of the face in the frame of b, rad' }),
      'Direction of the face',
      {
        quantity: 'angle',
      },
    ),
  }),
]);
const FOLLOWERS: Offers<z.infer<typeof follower>, 'kind'> = {
  tip: { label: 'Tip', first: () => ({ kind: 'tip' }) },
  roller: { label: 'Roller', first: () => ({ kind: 'roller', radius: 0.01 }) },
  flat: { label: 'Flat face', first: () => ({ kind: 'flat', angle: -Math.PI / 2 }) },
};
offer(follower, FOLLOWERS);
const held = { zero, friction, velocity };

/** What ties two bodies together. */
export const jointSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('pin'), id, name, ...pair, ...held }),
  z.strictObject({
    kind: z.literal('slide'),
    id,
    name,
    ...pair,
    angle: finite.meta({ description: 'Direction of the rail in the frame of a, rad' }),
    turn: finite.meta({ description: 'Angle of b against a, rad; held' }),
    ...held,
  }),
  z.strictObject({ kind: z.literal('weld'), id, name, ...pair, turn: finite }),
  z.strictObject({
    kind: z.literal('slot'),
    id,
    name,
    ...pair,
    angle: finite.meta({ description: 'Direction of the slot in the frame of a, rad' }),
    ...held,
  }),
  z.strictObject({
    kind: z.literal('guide'),
    id,
    name,
    path: refTo('path', { whenGone: 'goes' }),
    b: place.meta({ description: 'The point held on the path' }),
    ...held,
  }),
  z.strictObject({ kind: z.literal('cylinder'), id, name, ...pair, ...held }),
  z.strictObject({
    kind: z.literal('rod'),
    id,
    name,
    ...pair,
    length: field(size.meta({ description: 'From the middle of one ball end to that of the other, m' }), 'Length', {
      quantity: 'length',
    }),
  }),
  z.strictObject({ kind: z.literal('ball'), id, name, ...pair }),
  z.strictObject({
    kind: z.literal('cam'),
    id,
    name,
    path: refTo('path', { description: 'Outline of the cam: a closed path on its body', whenGone: 'goes' }),
    b: place.meta({ description: 'Tip, centre of the roller, or a point of the flat face' }),
    follower: field(follower, 'Follower'),
    closure: field(
      z.enum(['spring', 'groove']).meta({ description: 'Held by force (may lift off) or guided on both sides' }),
      'Held by',
      { words: { spring: 'Force (may lift off)', groove: 'Groove' } },
    ),
    ...held,
  }),
]);

export type Joint = z.infer<typeof jointSchema>;
export type JointKind = Joint['kind'];
export type JointFriction = z.infer<typeof friction>;

/** What a joint of each kind is called until it is renamed, and what it does. */
export const JOINTS: Readonly<Record<JointKind, { label: string; hint: string }>> = {
  pin: { label: 'Pin', hint: 'A pin: the two turn on each other' },
  slide: { label: 'Slide', hint: 'A slide: it moves along the rail and does not turn' },
  weld: { label: 'Weld', hint: 'A weld: the two are one' },
  slot: { label: 'Slot', hint: 'A pin in a slot: it moves along the slot and may turn' },
  guide: { label: 'Guide', hint: 'A guide: the point stays on the path' },
  cylinder: { label: 'Cylinder', hint: 'A cylinder between two points, of any two planes' },
  rod: { label: 'Rod', hint: 'A rod with ball ends keeps two points apart, of any two planes' },
  ball: { label: 'Ball joint', hint: 'A ball joint holds points of two planes in one place' },
  cam: { label: 'Cam', hint: 'A cam and its follower' },
};

/** Joints that have a position of their own, which an axis can drive. */
export type MovingJoint = Extract<Joint, { zero: number }>;
/** Whether a joint has a position of its own. */
export const hasPosition = (joint: Joint): joint is MovingJoint => 'zero' in joint;
/** Whether a joint may stand between points of two planes. */
export const acrossPlanes = ({ kind }: Pick<Joint, 'kind'>): boolean =>
  kind === 'cylinder' || kind === 'rod' || kind === 'ball';

/** Whether a joint turns (its position is an angle) or slides. */
export function turns(joint: Pick<Joint, 'kind'>): boolean {
  return joint.kind === 'pin';
}
