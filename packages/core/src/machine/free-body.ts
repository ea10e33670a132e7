import { addDisc, addJoint, bodyPoint, freshName, groundPoint } from './draw';
import { addPlane, turnOf } from './draw-plane';
import type { Body, Mechanism } from './mechanism';

/** Takes the mass off a body that is only there to leave another one free. */
function massless(body: Body): Body {
  const tensor = { xx: 0, yy: 0, xy: 0, xz: 0, yz: 0 };
  body.mass = { given: 'typed', mass: 0, centre: [0, 0], inertia: 0, height: 0, tensor };
  return body;
}

/**
 * Adds a body that is free in space, to be held by rods and ball joints: a disc that lies level, in a plane of its own
 * that goes three ways and turns three ways. Two bodies without mass between leave it free: one goes along and about
 * the normal of the plane that it is begun in, the other across and about the line across, the body itself about its
 * own normal. Where it tilts about that line across by a right angle the three turns are none.
 * @param at its middle in the plane that it is begun in, m
 * @param plane in which it is begun
 */
export function addFreeBody(mechanism: Mechanism, at: readonly [number, number], plane: string, radius = 0.05): Body {
  const name = freshName(
    'Free body',
    mechanism.bodies.map((body) => body.name),
  );
  const along = massless(addDisc(mechanism, at, radius / 8, `${name} goes along`, plane));
  const side = addPlane(mechanism, { name: `${name} across`, on: along.id, turn: turnOf('right') });
  const across = massless(addDisc(mechanism, [0, 0], radius / 8, `${name} goes across`, side.id));
  addJoint(mechanism, 'slot', groundPoint(mechanism, [0, 0], side.id), bodyPoint(mechanism, across.id, [0, 0]), {
    name: `${name} free across`,
    direction: 0,
  });
  const level = addPlane(mechanism, { name, on: across.id, turn: turnOf('top') });
  const body = addDisc(mechanism, [0, 0], radius, name, level.id);
  addJoint(mechanism, 'pin', groundPoint(mechanism, [0, 0], level.id), bodyPoint(mechanism, body.id, [0, 0]), {
    name: `${name} free to turn`,
  });
  return body;
}
