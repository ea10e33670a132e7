/** What every part of a drive train loses and carries, referred to its fast shaft. */
export interface PartLosses {
  /** kg·m² */
  inertia: number;
  /** Share of power passed when the motor drives. */
  efficiency: number;
  /** Share of power passed back when the load drives; 0 is self-locking. */
  backEfficiency: number;
  /** Torque of friction while turning, N·m. */
  friction: number;
}

/** Drive train between motor shaft and axis. Lead in m per turn, radius in m. */
export interface DriveTrain {
  gearbox: ({ ratio: number } & PartLosses) | null;
  transmission:
    | { kind: 'direct' }
    | ({ kind: 'screw'; lead: number } & PartLosses)
    | ({ kind: 'belt' | 'rack'; radius: number } & PartLosses);
}

/** One part of the chain: `ratio` is its fast shaft's turning (rad) per unit of what it drives. */
export interface DriveStage extends PartLosses {
  name: 'gearbox' | 'screw' | 'belt' | 'rack';
  ratio: number;
}

/** A drive train made ready: stages from the axis towards the motor. */
export interface DriveModel {
  stages: readonly DriveStage[];
  /** Motor turning per unit of axis motion: rad per m or rad per rad; negative where the axis is turned round. */
  ratio: number;
}

/**
 * Makes a drive train ready.
 * Screw of lead p: 2π/p; belt or rack of radius r: 1/r (textbook).
 * @param reversed whether the axis' positive direction runs against the motor's positive turning
 */
export function driveModel({ gearbox, transmission }: DriveTrain, reversed: boolean): DriveModel {
  const stages: DriveStage[] = [];
  const losses = ({ inertia, efficiency, backEfficiency, friction }: PartLosses): PartLosses => ({
    inertia,
    efficiency,
    backEfficiency,
    friction,
  });
  if (transmission.kind === 'screw')
    stages.push({ name: 'screw', ratio: (2 * Math.PI) / transmission.lead, ...losses(transmission) });
  else if (transmission.kind !== 'direct')
    stages.push({ name: transmission.kind, ratio: 1 / transmission.radius, ...losses(transmission) });
  if (gearbox) stages.push({ name: 'gearbox', ratio: gearbox.ratio, ...losses(gearbox) });
  const magnitude = stages.reduce((product, stage) => product * stage.ratio, 1);
  return { stages, ratio: reversed ? -magnitude : magnitude };
}

/** What a drive train does at one instant. */
export interface DriveState {
  /** Torque in N·m that the motor shaft must give, without the motor's own inertia. */
  torque: number;
  /** Power in W lost in efficiencies and frictions; never negative. */
  loss: number;
  /** Signs of the powers passed on: while it stays the same, torque and loss are smooth functions. */
  pattern: number;
}

/**
 * Follows an effort from the axis to the motor shaft. Each stage divides it by its ratio and by its efficiency
 * (or multiplies by the backward efficiency where the load drives), then adds its friction and inertia.
 * At rest nothing is lost and nothing helped.
 * @param effort at the axis, N or N·m
 * @param velocity of the axis, m/s or rad/s
 * @param acceleration of the axis
 * @param direction sign of the motion, which friction opposes
 * @param out receives the result
 */
export function passDrive(
  drive: DriveModel,
  effort: number,
  velocity: number,
  acceleration: number,
  direction: number,
  out: DriveState,
): void {
  let torque = effort;
  let speed = velocity;
  let rate = acceleration;
  let pattern = direction + 1;
  let loss = 0;
  for (const stage of drive.stages) {
    const flow = Math.sign(torque * direction);
    const passed = flow > 0 ? 1 / stage.efficiency : flow < 0 ? stage.backEfficiency : 1;
    loss += torque * speed * (passed - 1);
    torque = (torque * passed) / stage.ratio;
    speed *= stage.ratio;
    rate *= stage.ratio;
    loss += stage.friction * Math.abs(speed);
    torque += stage.inertia * rate + stage.friction * direction;
    pattern = pattern * 3 + flow + 1;
  }
  out.torque = drive.ratio < 0 ? -torque : torque;
  out.loss = loss;
  out.pattern = pattern;
}

/** Inertia in kg·m² at the motor shaft of everything behind it: parts and load. */
export function reflectedInertia(drive: DriveModel, loadInertia: number): number {
  return drive.stages.reduce((inertia, stage) => inertia / stage.ratio ** 2 + stage.inertia, loadInertia);
}

/** Inertia of the drive train's own parts, referred to the axis: kg or kg·m². */
export function drivePartsInertia(drive: DriveModel): number {
  let ratio = 1;
  let sum = 0;
  for (const stage of drive.stages) {
    ratio *= stage.ratio;
    sum += stage.inertia * ratio ** 2;
  }
  return sum;
}

/**
 * Torque in N·m that holds the motor shaft at rest against `effort` at the axis.
 * The load tries to drive backwards, so backward efficiency and friction help.
 */
export function holdingTorque(drive: DriveModel, effort: number): number {
  let torque = Math.abs(effort);
  for (const stage of drive.stages) {
    torque = Math.max(0, (torque * stage.backEfficiency) / stage.ratio - stage.friction);
  }
  return torque;
}
