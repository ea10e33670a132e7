export { ContactError, loadContact } from './engine';
export * from './pairs';
export * from './shapes';
export * from './world';
export type { BodyPush, Push } from './pushes';
export { centreOf, rests, type LoosePart } from './loose-part';
export type { Lost } from './grips';
