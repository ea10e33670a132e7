import type { z } from 'zod';
import { planeOfPath } from './mechanism';
import type { Say } from './parts';
import { referencesIn } from './references';
import type { Machine } from './schema';

/** Lists whose things lie in the front plane: what loose parts meet, and what sees them. */
const FLAT = ['loose', 'sequence'];

/**
 * Says what names a body of another plane than it can: loose parts, what handles them and sensors lie in the front
 * plane, unless parts move in space; clearances are watched, and points led along paths, within one plane.
 */
export function checkFlat(schema: z.core.$ZodType, machine: Machine, say: Say): void {
  const { mechanism: m } = machine;
  if (m.planes.length < 2) return;
  const front = m.planes[0]!;
  const planeName = (id: string | undefined) => m.planes.find((plane) => plane.id === id)?.name ?? id;
  for (const { to, id, path } of machine.loose.space ? [] : referencesIn(schema, machine)) {
    if ((to !== 'body' && to !== 'place') || !FLAT.includes(path[0] as string)) continue;
    if (path[1] === 'monitors') continue;
    const body = m.bodies.find((own) => own.id === id);
    if (body && body.plane !== front.id)
      say(
        path,
        `names “${body.name}”, which moves in the plane “${planeName(body.plane)}”: loose parts, what handles them and sensors lie in the plane “${front.name}” unless parts move in space; let them, or choose a body of that plane, or the position of an axis`,
      );
  }
  machine.sequence.monitors.forEach(({ name, a, b }, i) => {
    const [one, other] = [a, b].map((id) => m.bodies.find((body) => body.id === id));
    const planes = new Set([one, other].flatMap((body) => (body ? [body.plane] : [])));
    if (planes.size > 1)
      say(
        ['sequence', 'monitors', i],
        `“${name}” watches “${one!.name}” and “${other!.name}”, which move in two planes: a clearance is watched within one plane; choose two bodies of one, or two axes on a line`,
      );
  });
  machine.leads.forEach(({ name, point, path }, i) => {
    const way = m.paths.find((own) => own.id === path);
    const body = m.bodies.find((own) => own.id === point.body);
    if (way && body && planeOfPath(m, way) !== body.plane)
      say(['leads', i, 'path'], `of “${name}” lies in the plane “${planeName(planeOfPath(m, way))}”, but “${body.name}” moves in “${planeName(body.plane)}”: choose a path of that plane`); // prettier-ignore
  });
}
