export * from './types';
export { findLaw, LAW_IDS, LAWS, lawAt, makeLaw, type LawId } from './library';
export { lawCharacteristics, type LawCharacteristics } from './characteristics';
