import { z } from 'zod';
import { constantNameProblem } from '../formula';
import { AXIS_KINDS, type QuantityKind } from '../quantity';
import { field, type Thing } from './field';
import { checkFlat } from './flat-only';
import { NOT_OFFERED, offer, type Offers } from './kinds';
import { leadSchema } from './lead';
import { markedPoseSchema } from './marked-pose';
import { checkLoose, looseSchema } from './loose';
import { hasPosition, mechanismSchema, turns } from './mechanism';
import { masterSchema, motionSchema, planSchema } from './motion';
import { finite, id, lasting, name, notNegative, positive, unique } from './parts';
import { clearancesSchema } from './clearances';
import { formulaText, refers } from './refer';
import { checkReferences } from './references';
import { checkSequence, sequenceSchema } from './sequence';
import { variantSchema } from './variant-schema';

/** What every machine document says it is. */
export const FORMAT_NAME = 'yoke-machine';
/** Version of the document format that this release writes. */
export const FORMAT_VERSION = 5;

/** Share of power that passes, 1 % to 100 %. */
const efficiency = finite.min(0.01).max(1);
/** Share of power that comes back when the load drives; 0 stands for self-locking. */
const backEfficiency = finite.min(0).max(1);

/** In a quantity of the axis, by its kind. */
const ownIn =
  (quantity: keyof (typeof AXIS_KINDS)['linear']) =>
  ({ kind }: Thing): QuantityKind =>
    AXIS_KINDS[kind === 'rotary' ? 'rotary' : 'linear'][quantity];
/** One word for an axis that slides, another for one that turns. */
const asKind =
  (linear: string, rotary: string) =>
  ({ kind }: Thing) =>
    kind === 'rotary' ? rotary : linear;
const turnsRound = ({ kind }: Thing) => kind === 'rotary';

const SHAFTS: Readonly<Record<string, string>> = { screw: 'the screw', belt: 'the pulley', rack: 'the pinion' };
const atShaft = (what: string) => (part: Thing) => `${what} at ${SHAFTS[part.kind as string] ?? 'its input'}`;

/** What every part of a drive train loses and carries. Inertia in kg·m², friction in N·m, at its fast shaft. */
const losses = {
  efficiency: field(
    efficiency.meta({ description: 'Share of power passed when the motor drives, 0.01 to 1' }),
    'Efficiency',
    { quantity: 'ratio' },
  ),
  backEfficiency: field(
    backEfficiency.meta({ description: 'Share of power passed back when the load drives, 0 (self-locking) to 1' }),
    '… back-driven',
    { quantity: 'ratio', hint: 'Share of power that comes back when the load drives; 0 % is self-locking' },
  ),
  inertia: field(
    notNegative.meta({ description: 'Moment of inertia of the rotating parts, kg·m²' }),
    atShaft('Inertia'),
    { quantity: 'inertia' },
  ),
  friction: field(notNegative.meta({ description: 'Torque of friction while turning, N·m' }), atShaft('Friction'), {
    quantity: 'torque',
  }),
};

const gearbox = z.strictObject({
  ratio: field(
    positive.meta({ description: 'Turns of the motor shaft for one turn of the output' }),
    'Ratio (motor : output)',
    { quantity: 'number' },
  ),
  ...losses,
});

const transmission = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('direct') }),
  z.strictObject({
    kind: z.literal('screw'),
    lead: field(positive.meta({ description: 'Travel for one turn of the screw, m' }), 'Lead per turn', {
      quantity: 'length',
    }),
    ...losses,
  }),
  z.strictObject({
    kind: z.literal('belt'),
    radius: field(positive.meta({ description: 'Effective radius of the pulley, m' }), 'Pulley radius', {
      quantity: 'length',
    }),
    ...losses,
  }),
  z.strictObject({
    kind: z.literal('rack'),
    radius: field(positive.meta({ description: 'Pitch radius of the pinion, m' }), 'Pinion pitch radius', {
      quantity: 'length',
    }),
    ...losses,
  }),
]);

/** Losses of a part that is well made and carries nothing worth naming. */
export const PLAIN_LOSSES = { inertia: 0, efficiency: 0.95, backEfficiency: 0.95, friction: 0 } as const;
/** How a linear axis is driven, each with its starting values; a rotary one is driven straight on. */
export const TRANSMISSIONS: Offers<z.infer<typeof transmission>, 'kind'> = {
  direct: { label: 'Straight on', first: () => NOT_OFFERED },
  screw: {
    label: 'Screw',
    first: () => ({ kind: 'screw', lead: 0.01, inertia: 2e-5, efficiency: 0.9, backEfficiency: 0.8, friction: 0.02 }),
  },
  belt: { label: 'Belt', first: () => ({ kind: 'belt', radius: 0.025, ...PLAIN_LOSSES, inertia: 1e-4 }) },
  rack: { label: 'Rack', first: () => ({ kind: 'rack', radius: 0.02, ...PLAIN_LOSSES, inertia: 1e-4 }) },
};
offer(transmission, TRANSMISSIONS);

const load = z.strictObject({
  inertia: field(
    notNegative.meta({ description: 'Moving mass (kg) or moment of inertia (kg·m²)' }),
    asKind('Moving mass', 'Moment of inertia'),
    { quantity: ownIn('inertia') },
  ),
  slope: field(
    finite
      .min(0)
      .max(Math.PI / 2 + 1e-12)
      .meta({ description: 'Slope against the horizontal, rad: of the rail, or of the plane of turning' }),
    asKind('Slope of the rail', 'Slope of the plane'),
    { quantity: 'angle', hint: 'Against the horizontal: 0° level, 90° upright' },
  ),
  coulomb: field(notNegative.meta({ description: 'Coulomb friction, N or N·m' }), 'Coulomb friction', {
    quantity: ownIn('effort'),
  }),
  viscous: field(notNegative.meta({ description: 'Viscous friction, N·s/m or N·m·s/rad' }), 'Viscous friction', {
    quantity: ownIn('damping'),
  }),
  force: field(
    finite.meta({ description: 'Constant force or torque along the positive direction, N or N·m' }),
    asKind('Constant force', 'Constant torque'),
    { quantity: ownIn('effort'), hint: 'Acts on the load; positive helps along the positive direction' },
  ),
  imbalance: field(
    notNegative.meta({ description: 'Rotary only: mass times distance of its centre from the pivot, kg·m' }),
    'Imbalance (mass × distance)',
    { quantity: 'imbalance', when: turnsRound },
  ),
  imbalanceAngle: field(
    finite.meta({ description: 'Rotary only: direction of the centre of mass at position 0, rad from level' }),
    '… its direction at 0°',
    { quantity: 'angle', when: turnsRound },
  ),
  forceTable: z
    .array(z.tuple([finite, finite]))
    .min(2)
    .max(20_000)
    .nullable()
    .meta({ description: 'Force or torque over cycle time: pairs of time in s and N or N·m, times rising' }),
  formula: formulaText()
    .nullable()
    .meta({ description: 'Force or torque as a formula, along the positive direction; null for none' }),
});

/** A pneumatic cylinder: the ends of travel are its ends, “in” is the lower one. */
const cylinder = z.strictObject({
  out: cylinderWay(),
  in: cylinderWay(),
  acceleration: field(
    positive.meta({ description: 'm/s² or rad/s², until the throttled speed is reached' }),
    'Gets going with',
    { quantity: ownIn('acceleration') },
  ),
});

function cylinderWay() {
  return z.strictObject({
    fill: field(notNegative.max(60).meta({ description: 'Time from switching until it moves, s' }), 'Fills in', {
      quantity: 'time',
    }),
    speed: field(positive.meta({ description: 'Speed that the throttle lets through, m/s or rad/s' }), 'Throttled to', {
      quantity: ownIn('velocity'),
    }),
    cushion: field(
      notNegative.meta({ description: 'Way before the end in which the cushion brakes, m or rad' }),
      'Cushion',
      { quantity: ownIn('position') },
    ),
    endSpeed: field(
      notNegative.meta({ description: 'Speed at which it meets the end, m/s or rad/s' }),
      'Meets its end at',
      { quantity: ownIn('velocity') },
    ),
  });
}

/** A limit that an axis may be without. */
const limit = (label: string, quantity: Parameters<typeof ownIn>[0]) =>
  field(positive.nullable(), label, { quantity: ownIn(quantity) });

export const axisSchema = z
  .strictObject({
    id,
    name,
    kind: z.enum(['linear', 'rotary']),
    colour: z.int().min(0).max(7).meta({ description: 'Index into the palette of axis colours' }),
    reversed: z.boolean().meta({
      description: 'Whether the positive direction is turned round: down the slope, or clockwise',
    }),
    travel: z
      .strictObject({
        min: field(finite, 'Lower end', { quantity: ownIn('position') }),
        max: field(finite, 'Upper end', { quantity: ownIn('position') }),
      })
      .nullable()
      .meta({ description: 'Ends of travel, m or rad; null for an axis without ends' }),
    home: field(finite.meta({ description: 'Home position, m or rad' }), 'Home', { quantity: ownIn('position') }),
    limits: z.strictObject({
      velocity: limit('Velocity', 'velocity'),
      acceleration: limit('Acceleration', 'acceleration'),
      jerk: limit('Jerk', 'jerk'),
    }),
    smooth: field(
      z
        .enum(['velocity', 'acceleration', 'jerk'])
        .meta({ description: 'Up to which derivative the motion shall be continuous; jumps of it are findings' }),
      'No jumps up to',
      {
        words: { velocity: 'Velocity', acceleration: 'Acceleration', jerk: 'Jerk' },
        hints: {
          velocity: 'Steps of the acceleration are no finding',
          jerk: 'Steps of the jerk are a finding too',
        },
      },
    ),
    gearbox: gearbox.nullable(),
    transmission: field(transmission, 'By', { when: (thing) => !turnsRound(thing) }),
    load,
    plan: planSchema,
    motion: motionSchema,
    alternatives: z
      .array(z.strictObject({ id, name, plan: planSchema, motion: motionSchema }))
      .max(30)
      .meta({ description: 'Other motions of this axis, put aside to be compared or taken again' }),
    cylinder: cylinder.nullable().meta({ description: 'What a cylinder does when it is switched; null for a servo' }),
    joint: z
      .string()
      .register(refers, { to: 'joint', whenGone: 'goes', open: true })
      .nullable()
      .meta({ description: 'Joint of the mechanism that this axis drives; null where it moves its own load alone' }),
    sizing: z.strictObject({
      torqueReserve: finite.min(0).max(5).meta({ description: 'Wanted reserve on peak and RMS torque' }),
      speedReserve: finite.min(0).max(5).meta({ description: 'Wanted reserve on speed' }),
      inertiaRatio: positive.max(1000).meta({ description: 'Largest load to motor inertia ratio' }),
      brake: z.enum(['auto', 'always', 'never']),
      rankBy: z.enum(['mass', 'loss', 'torque', 'inertia']),
      motor: z.string().max(80).nullable().meta({ description: 'Type of the chosen motor' }),
    }),
  })
  .superRefine((value, context) => {
    const say = (path: PropertyKey[], message: string) => context.addIssue({ code: 'custom', path, message });
    if (value.kind === 'linear' && value.transmission.kind === 'direct')
      say(['transmission', 'kind'], 'must be screw, belt or rack for a linear axis');
    if (value.kind === 'rotary' && value.transmission.kind !== 'direct')
      say(['transmission', 'kind'], 'must be direct for a rotary axis (with or without a gearbox)');
    if (value.travel && value.travel.min >= value.travel.max)
      say(['travel', 'max'], 'must lie above the lower end of the travel');
    if (value.travel && (value.home < value.travel.min || value.home > value.travel.max))
      say(['home'], 'must lie within the travel');
    if (value.kind === 'linear' && value.load.imbalance !== 0)
      say(['load', 'imbalance'], 'must be 0 for a linear axis');
    if (value.cylinder && !value.travel) say(['cylinder'], 'needs ends of travel: where it is when in, and when out');
    unique(value.plan.segments, 'id', ['plan', 'segments'], say);
    unique(value.alternatives, 'id', ['alternatives'], say);
    if (value.motion.source.kind === 'moves')
      unique(value.motion.source.blocks, 'id', ['motion', 'source', 'blocks'], say);
    if (value.motion.over === 'master' && value.motion.level !== 'position')
      say(['motion', 'level'], 'must be “position” for a motion over the master');
    value.load.forceTable?.forEach(([time], i, table) => {
      if (time < 0) say(['load', 'forceTable', i, 0], 'must not be negative');
      if (i > 0 && time < table[i - 1]![0]) say(['load', 'forceTable', i, 0], 'must not lie before the row above it');
    });
  });

/** All that stands in a machine document, each part checked by itself. */
export const machineParts = z.strictObject({
  format: z.literal(FORMAT_NAME),
  version: z.literal(FORMAT_VERSION),
  name,
  notes: z.string().max(20_000),
  units: z.enum(['metric', 'inch']).meta({ description: 'Units shown to people; the document is in SI' }),
  cycle: z.discriminatedUnion('given', [
    z.strictObject({ given: z.literal('time'), time: z.number().min(0.001).max(86_400).meta({ description: 's' }) }),
    z.strictObject({
      given: z.literal('rate'),
      rate: z
        .number()
        .min(1 / 86_400)
        .max(1000)
        .meta({ description: 'cycles per second' }),
    }),
  ]),
  oneOff: z.boolean().optional().meta({
    description: 'Whether the machine runs once, from rest to rest: motions need not come back to where they began',
  }),
  step: lasting.nullable().meta({ description: 'Sampling step in s; null to have it proposed' }),
  master: masterSchema,
  constants: z
    .array(z.strictObject({ name: z.string().max(40), text: z.string().max(400) }))
    .max(200)
    .meta({
      description: 'Named constants of the formulas, as formulas with units; later ones may use earlier ones',
    }),
  axes: z.array(axisSchema).max(32),
  mechanism: mechanismSchema,
  poses: z
    .array(markedPoseSchema)
    .max(100)
    .optional()
    .meta({ description: 'Poses that were marked, to begin and end moves at' }),
  leads: z.array(leadSchema).max(20).meta({ description: 'Tool points led along paths' }),
  loose: looseSchema,
  sequence: sequenceSchema,
  clearances: clearancesSchema.optional().meta({ description: 'Clearances on true shapes' }),
  variants: z.array(variantSchema).max(40).meta({ description: 'Named changes to hold the machine against' }),
});

/** The machine document, `*.yoke.json`: the one description of the format. SI units throughout. */
export const machineSchema = machineParts
  .superRefine((machine, context) => {
    const say = (path: PropertyKey[], message: string) => context.addIssue({ code: 'custom', path, message });
    unique(machine.axes, 'id', ['axes'], say);
    unique(machine.axes, 'name', ['axes'], say);
    unique(machine.variants, 'name', ['variants'], say);
    unique(machine.leads, 'id', ['leads'], say);
    unique(machine.poses ?? [], 'id', ['poses'], say);
    unique(machine.constants, 'name', ['constants'], say);
    machine.constants.forEach(({ name: given }, i) => {
      const problem = constantNameProblem(given);
      if (problem) say(['constants', i, 'name'], problem);
    });
    checkLoose(machine.loose, say);
    checkSequence(machine.sequence, machine.axes, say);
    checkReferences(machineParts, machine, say);
    checkFlat(machineParts, machine, say);
    const driven = new Map<string, string>();
    machine.axes.forEach(({ joint: idOf, name: axisName, kind }, i) => {
      if (idOf === null) return;
      const found = machine.mechanism.joints.find((j) => j.id === idOf);
      const path = ['axes', i, 'joint'];
      if (!found || !hasPosition(found)) say(path, `names the joint “${idOf}”, which does not exist or cannot move`);
      else if (turns(found) !== (kind === 'rotary'))
        say(
          path,
          `is the ${found.kind} “${found.name}”, which ${turns(found) ? 'turns' : 'slides'}, but the axis ${kind === 'rotary' ? 'turns' : 'slides'}`,
        );
      const other = driven.get(idOf);
      if (other !== undefined) say(path, `is driven by the axis “${other}” already`);
      driven.set(idOf, axisName);
    });
  })
  .meta({ title: 'Yoke machine', description: 'One machine: its axes, their drive trains, loads and motions' });

export type Machine = z.infer<typeof machineParts>;
export type Axis = Machine['axes'][number];
export type Load = Axis['load'];
export type AxisMotion = Axis['motion'];
/** What leads an axis, of some kinds. */
export type MotionSourceOf<K extends AxisMotion['source']['kind']> = Extract<AxisMotion['source'], { kind: K }>;
export type Alternative = Axis['alternatives'][number];
export type Variant = Machine['variants'][number];
export type Cylinder = NonNullable<Axis['cylinder']>;
export type Gearbox = NonNullable<Axis['gearbox']>;
export type Transmission = Axis['transmission'];
export type SizingWishes = Axis['sizing'];
export type RankingCriterion = SizingWishes['rankBy'];

/** Length of the cycle in s, from whichever of time and rate was given. */
export function cycleTime(machine: Pick<Machine, 'cycle'>): number {
  return machine.cycle.given === 'time' ? machine.cycle.time : 1 / machine.cycle.rate;
}
