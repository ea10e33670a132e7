/** Systems of display units a person can choose. Inside, everything is SI. */
export type UnitSystem = 'metric' | 'inch';

/** One unit as it is shown: its symbol, the expression it is read as, and how many SI units it holds. */
export interface DisplayUnit {
  /** As shown to people, for example `N·m`. */
  symbol: string;
  /** SI value of one of this unit. */
  factor: number;
}

const INCH = 0.0254;
const POUND = 0.45359237;
const POUND_FORCE = 4.4482216152605;
const DEGREE = Math.PI / 180;
const RPM = Math.PI / 30;
/** Standard acceleration of free fall in m/s² (NIST SP 811, exact by definition). */
export const STANDARD_GRAVITY = 9.80665;

interface KindSpec {
  /** What a person calls it, used in messages. */
  noun: string;
  /** SI unit as the unit parser reads it; empty for plain numbers. */
  si: string;
  metric: DisplayUnit;
  inch: DisplayUnit;
  /** A valid entry for messages. */
  example: string;
}

const unit = (symbol: string, factor: number): DisplayUnit => ({ symbol, factor });
const both = (display: DisplayUnit) => ({ metric: display, inch: display });

/**
 * Every kind of quantity of the application with its SI unit and its display units.
 * Conversion factors: NIST SP 811 (inch, pound and pound-force are exact).
 */
export const KINDS = {
  number: { noun: 'a plain number', si: '', ...both(unit('', 1)), example: '10' },
  ratio: { noun: 'a share', si: '', ...both(unit('%', 0.01)), example: '90 %' },
  time: { noun: 'a time', si: 's', ...both(unit('s', 1)), example: '0.2 s' },
  rate: { noun: 'a rate', si: 'Hz', ...both(unit('1/min', 1 / 60)), example: '40 cpm' },
  frequency: { noun: 'a frequency', si: 'Hz', ...both(unit('Hz', 1)), example: '12 Hz' },
  angle: { noun: 'an angle', si: 'rad', ...both(unit('°', DEGREE)), example: '30 deg' },
  angularVelocity: {
    noun: 'an angular velocity',
    si: 'rad/s',
    ...both(unit('°/s', DEGREE)),
    example: '90 deg/s',
  },
  shaftSpeed: { noun: 'a shaft speed', si: 'rad/s', ...both(unit('rpm', RPM)), example: '90 rpm' },
  angularAcceleration: {
    noun: 'an angular acceleration',
    si: 'rad/s^2',
    ...both(unit('°/s²', DEGREE)),
    example: '720 deg/s^2',
  },
  angularJerk: {
    noun: 'an angular jerk',
    si: 'rad/s^3',
    ...both(unit('°/s³', DEGREE)),
    example: '9000 deg/s^3',
  },
  length: {
    noun: 'a length',
    si: 'm',
    metric: unit('mm', 1e-3),
    inch: unit('in', INCH),
    example: '12 mm',
  },
  velocity: {
    noun: 'a velocity',
    si: 'm/s',
    metric: unit('mm/s', 1e-3),
    inch: unit('in/s', INCH),
    example: '250 mm/s',
  },
  acceleration: {
    noun: 'an acceleration',
    si: 'm/s^2',
    metric: unit('m/s²', 1),
    inch: unit('in/s²', INCH),
    example: '5 m/s^2',
  },
  jerk: {
    noun: 'a jerk',
    si: 'm/s^3',
    metric: unit('m/s³', 1),
    inch: unit('in/s³', INCH),
    example: '200 m/s^3',
  },
  mass: {
    noun: 'a mass',
    si: 'kg',
    metric: unit('kg', 1),
    inch: unit('lb', POUND),
    example: '4 kg',
  },
  inertia: {
    noun: 'a moment of inertia',
    si: 'kg m^2',
    metric: unit('kg·cm²', 1e-4),
    inch: unit('lb·in²', POUND * INCH * INCH),
    example: '12 kg cm^2',
  },
  imbalance: {
    noun: 'an imbalance (mass times distance)',
    si: 'kg m',
    metric: unit('kg·mm', 1e-3),
    inch: unit('lb·in', POUND * INCH),
    example: '40 kg mm',
  },
  force: {
    noun: 'a force',
    si: 'N',
    metric: unit('N', 1),
    inch: unit('lbf', POUND_FORCE),
    example: '25 N',
  },
  torque: {
    noun: 'a torque',
    si: 'N m',
    metric: unit('N·m', 1),
    inch: unit('lbf·in', POUND_FORCE * INCH),
    example: '5 lbf in',
  },
  linearDamping: {
    noun: 'a viscous friction',
    si: 'N s/m',
    metric: unit('N·s/m', 1),
    inch: unit('lbf·s/in', POUND_FORCE / INCH),
    example: '20 N s/m',
  },
  angularDamping: {
    noun: 'a viscous friction',
    si: 'N m s/rad',
    metric: unit('N·m·s/rad', 1),
    inch: unit('lbf·in·s/rad', POUND_FORCE * INCH),
    example: '0.1 N m s/rad',
  },
  springRate: {
    noun: 'a spring rate',
    si: 'N/m',
    metric: unit('N/mm', 1000),
    inch: unit('lbf/in', POUND_FORCE / INCH),
    example: '2.5 N/mm',
  },
  torsionRate: {
    noun: 'a torsional spring rate',
    si: 'N m/rad',
    metric: unit('N·m/rad', 1),
    inch: unit('lbf·in/rad', POUND_FORCE * INCH),
    example: '4 N m/rad',
  },
  density: {
    noun: 'a density',
    si: 'kg/m^3',
    metric: unit('kg/m³', 1),
    inch: unit('lb/in³', POUND / INCH ** 3),
    example: '7850 kg/m^3',
  },
  gravity: {
    noun: 'an acceleration',
    si: 'm/s^2',
    metric: unit('m/s²', 1),
    inch: unit('in/s²', INCH),
    example: '9.81 m/s^2',
  },
  power: { noun: 'a power', si: 'W', ...both(unit('W', 1)), example: '400 W' },
  energy: { noun: 'an energy', si: 'J', ...both(unit('J', 1)), example: '20 J' },
  torqueConstant: {
    noun: 'a torque constant',
    si: 'N m/A',
    ...both(unit('N·m/A', 1)),
    example: '0.6 N m/A',
  },
  voltage: { noun: 'a voltage', si: 'V', ...both(unit('V', 1)), example: '320 V' },
  inductance: { noun: 'an inductance', si: 'H', ...both(unit('mH', 1e-3)), example: '6 mH' },
  resistance: { noun: 'a resistance', si: 'ohm', ...both(unit('Ω', 1)), example: '1.4 ohm' },
} as const satisfies Record<string, KindSpec>;

/** Name of a kind of quantity, for example `length`. */
export type QuantityKind = keyof typeof KINDS;

/** The unit in which a kind is shown under a system. */
export function displayUnit(kind: QuantityKind, system: UnitSystem): DisplayUnit {
  return KINDS[kind][system];
}

/** Kinds of the quantities of an axis, which depend on whether it turns or slides. */
export const AXIS_KINDS = {
  linear: {
    position: 'length',
    velocity: 'velocity',
    acceleration: 'acceleration',
    jerk: 'jerk',
    effort: 'force',
    inertia: 'mass',
    damping: 'linearDamping',
  },
  rotary: {
    position: 'angle',
    velocity: 'angularVelocity',
    acceleration: 'angularAcceleration',
    jerk: 'angularJerk',
    effort: 'torque',
    inertia: 'inertia',
    damping: 'angularDamping',
  },
} as const satisfies Record<'linear' | 'rotary', Record<string, QuantityKind>>;

/** Whether an axis slides along a line or turns about a pivot. */
export type AxisKind = keyof typeof AXIS_KINDS;
