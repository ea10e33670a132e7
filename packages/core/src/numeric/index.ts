export { gaussNodes, integrate } from './quadrature';
export { bisectChange, maximise } from './root';
export { indexOfLargest, interpolate, lastAtOrBefore } from './table';
