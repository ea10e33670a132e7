import { z } from 'zod';
import { field, type Thing } from './field';
import { level, standsIn } from './in-space';
import { finite, id, name, point, positive, size } from './parts';
import { material } from './part-kind';
import { refTo } from './refer';

const length = { quantity: 'length' } as const;

const byTaking = ({ fingers }: Thing) => fingers === undefined;
/** Two fingers that close on a part and hold it by friction alone. */
const fingers = z.strictObject({
  angle: field(finite.meta({ description: 'Direction in which they close, rad' }), 'Fingers close along', {
    quantity: 'angle',
  }),
  gap: field(
    size.meta({ description: 'Between the open fingers, m; the place of the gripper is its middle' }),
    'Opens to',
    length,
  ),
  height: field(
    size.meta({ description: 'Of their faces in the plane, square to the way they close, m' }),
    'Face, in the plane',
    length,
  ),
  width: field(size.meta({ description: 'Of their faces across the plane, m' }), 'Face, across', length),
  force: field(positive.meta({ description: 'Of each finger, N' }), 'Each presses with', { quantity: 'force' }),
  speed: field(positive.max(100).meta({ description: 'Of each finger, m/s' }), 'Each closes at', {
    quantity: 'velocity',
  }),
  material,
});
export type GripperFingers = z.infer<typeof fingers>;

/** What takes parts, or holds them between fingers. */
export const gripper = z.strictObject({
  id,
  name,
  body: field(refTo('body', { description: 'Body that carries it, or “ground”', ground: true }), 'Sits on'),
  at: field(
    point.meta({ description: 'Where it holds, in the frame of the body, m' }),
    ['x on the body', 'y on the body'],
    length,
  ),
  plane: standsIn,
  level: level('Height over the body'),
  fingers: fingers.optional(),
  reach: field(size.meta({ description: 'Largest distance to a part that it takes, m' }), 'Reach', {
    ...length,
    when: byTaking,
  }),
  force: field(
    positive.meta({ description: 'Largest force it holds, N; beyond it the part is lost' }),
    'Holds at most',
    {
      quantity: 'force',
      when: byTaking,
    },
  ),
  kinds: field(
    z.array(refTo('kind')).max(40).meta({ description: 'Kinds of part it takes; none named stands for all' }),
    'Takes',
    { none: 'every part' },
  ),
});

export type Gripper = z.infer<typeof gripper>;
