import fc from '../../node_modules/fast-check/lib/cjs/fast-check';

const { YOKE_SEED, YOKE_TRIES } = process.env;
// Properties are tried with the same cases in every run, so that what is green stays green.
fc.configureGlobal({
  ...(YOKE_SEED === 'random' ? {} : { seed: Number(YOKE_SEED ?? 2143) }),
  ...(YOKE_TRIES === undefined ? {} : { numRuns: Number(YOKE_TRIES) }),
});

export * from '../../node_modules/fast-check/lib/cjs/fast-check';
export default fc;
