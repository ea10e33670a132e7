export { axisEffort, directionOfMotion, loadModel, type AxisLoad, type LoadModel } from './load';
export * from './drivetrain';
