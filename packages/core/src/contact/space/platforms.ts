import type { PrismaticImpulseJoint, World } from '@dimforge/rapier3d-compat';
import { placeIn, STILL3, turnedBy, type Place3 } from '../../geometry';
import { ACROSS, type Platform } from '../../machine';
import type { ContactGroups } from '../colliders';
import { addColliders, pieceShape, type SpaceBody } from './colliders';
import type { Owner } from './contact-forces';
import { spaceEngine } from './engine';
import type { Carried } from './frames';
import { slabsAlong } from './stations';

/** A sprung platform, what it stands on, and where it stands there before it gives way. */
export interface PlatformFace {
  owner: Owner;
  base: Carried;
  at: Place3;
}

/**
 * Makes a platform that gives way along its direction against its spring, and never turns.
 * @param carrier what it stands on, and where the frame of that is
 */
export function makePlatform(
  platform: Platform,
  world: World,
  groups: ContactGroups,
  carrier: Owner,
  frame: Place3,
  base: Carried,
): PlatformFace {
  const RAPIER = spaceEngine();
  const { from, to, thickness, width = ACROSS, angle, travel, rate, preload, damping, mass, material } = platform;
  const at = placeIn(base.at, { ...STILL3, x: from[0], y: from[1] });
  // Its own axes are those of its carrier, as the joint wants them; its face is turned as its plane is.
  const face: Place3 = { ...at, x: 0, y: 0, z: 0 };
  const stands = placeIn(frame, { ...STILL3, x: at.x, y: at.y, z: at.z });
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  const [mx, my, mz] = turnedBy(face, [dx / 2, dy / 2, 0]);
  const rigid = world.createRigidBody(
    RAPIER.RigidBodyDesc.dynamic()
      .setTranslation(stands.x, stands.y, stands.z)
      .setRotation({ w: stands.qw, x: stands.qx, y: stands.qy, z: stands.qz })
      .setCanSleep(false)
      .setAdditionalMassProperties(
        mass,
        { x: mx, y: my, z: mz },
        { x: mass, y: mass, z: mass },
        { w: 1, x: 0, y: 0, z: 0 },
      ),
  );
  const body: SpaceBody = { body: rigid, colliders: [] };
  const pieces = slabsAlong([[0, 0], [dx, dy]], thickness, width); // prettier-ignore
  addColliders(world, body, pieces.map(pieceShape), groups.get(material), face);
  const turned = turnedBy(face, [Math.cos(angle), Math.sin(angle), 0]);
  const data = RAPIER.JointData.prismatic(
    { x: at.x, y: at.y, z: at.z },
    { x: 0, y: 0, z: 0 },
    { x: turned[0], y: turned[1], z: turned[2] },
  );
  data.limitsEnabled = true;
  data.limits = [0, travel];
  const joint = world.createImpulseJoint(data, carrier.body.body, rigid, true) as PrismaticImpulseJoint;
  joint.setContactsEnabled(false);
  joint.configureMotorModel(RAPIER.MotorModel.ForceBased);
  joint.configureMotorPosition(-preload / rate, rate, damping);
  return { owner: { body, part: null, felt: false }, base, at };
}
