import { AXIS_KINDS, type AxisKind, type QuantityKind } from '../quantity';

/** Quantities of an axis that a run computes, in the order in which they are offered and exported. */
export const CHANNEL_IDS = [
  'position',
  'velocity',
  'acceleration',
  'jerk',
  'effort',
  'power',
  'motorSpeed',
  'shaftTorque',
  'motorTorque',
  'motorPower',
] as const;
export type ChannelId = (typeof CHANNEL_IDS)[number];

/** What a channel is called and in which unit it is shown. */
export interface ChannelSpec {
  id: ChannelId;
  label: string;
  kind: QuantityKind;
  /** What a positive value means, in words. */
  positive: string;
}

/** Describes a channel for an axis that slides or turns. */
export function channelSpec(id: ChannelId, axis: AxisKind): ChannelSpec {
  const kinds = AXIS_KINDS[axis];
  const along = 'along the positive direction';
  const turning = 'in the motor’s positive turning';
  const flows = 'flows towards the load';
  const specs: Record<ChannelId, Omit<ChannelSpec, 'id'>> = {
    position: { label: 'Position', kind: kinds.position, positive: along },
    velocity: { label: 'Velocity', kind: kinds.velocity, positive: along },
    acceleration: { label: 'Acceleration', kind: kinds.acceleration, positive: along },
    jerk: { label: 'Jerk', kind: kinds.jerk, positive: along },
    effort: {
      label: axis === 'linear' ? 'Force at the axis' : 'Torque at the axis',
      kind: kinds.effort,
      positive: along,
    },
    power: { label: 'Power at the axis', kind: 'power', positive: flows },
    motorSpeed: { label: 'Motor speed', kind: 'shaftSpeed', positive: turning },
    shaftTorque: { label: 'Torque at the motor shaft', kind: 'torque', positive: turning },
    motorTorque: { label: 'Motor torque with rotor', kind: 'torque', positive: turning },
    motorPower: { label: 'Motor power', kind: 'power', positive: flows },
  };
  return { id, ...specs[id] };
}
