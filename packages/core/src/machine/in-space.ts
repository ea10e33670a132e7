import { field, type Around, type Thing } from './field';
import { coordinate, size } from './parts';
import { GROUND } from './place';
import { refTo } from './refer';

/** How far across its plane reaches what says nothing of it, m. */
export const ACROSS = 0.1;

/** Whether parts move in space, so that depth counts. */
export const inSpace = (_: Thing, { space }: Around): boolean => space;

const length = { quantity: 'length' } as const;

/** The plane in whose frame something stands that no body carries. */
export const standsIn = field(
  refTo('plane', { description: 'Plane that it is drawn in where no body carries it; left out: the front plane' }).optional(),
  'In the plane',
  { when: ({ body }, { space }) => space && (body === undefined || body === GROUND), none: 'the front plane' },
); // prettier-ignore

/** How high something lies over its plane, or over the middle of the body that carries it. */
export const level = (label = 'Height over the plane') =>
  field(coordinate.optional().meta({ description: 'Along the normal of its plane, m; left out: 0' }), label, {
    ...length,
    when: inSpace,
    none: '0',
  });

/** How far something reaches across its plane, half to each side of its level. */
export const across = (label = 'Width across') =>
  field(size.optional().meta({ description: `Across its plane, m; left out: ${String(ACROSS)}` }), label, {
    ...length,
    when: inSpace,
    none: (_, { show }) => show(ACROSS, 'length'),
  });
