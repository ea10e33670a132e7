export * from './channels';
export * from './simulate';
export { explainRunFinding } from './explain';
export { findPeak, sampleIndexAt, valueAt, type Peak } from './peaks';
export { integrateAxis, type AxisEnergy, type DutyIntegrals } from './integrals';
export { axisModel, type AxisModel } from './model';
export { hasMechanism, prepareMechanism, runMechanism, type AxisMotions, type PreparedMechanism } from './mechanism';
export * from './mechanism-run';
export { explainMechanismFinding, nameIn } from './explain-mechanism';
