export * from './types';
export { findLaw, LAW_IDS, LAWS, lawAt, makeLaw, type LawId } from './library';
export { lawCharacteristics, type LawCharacteristics } from './characteristics';
export { boundaryPolynomial, DEGREES, polynomialLaw, putPolynomial, type BoundaryValues } from './boundary';
export { lobedLaw, type LobeShape } from './lobes';
export { describeEnds } from './ends';
