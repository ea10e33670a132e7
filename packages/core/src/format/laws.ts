import { lawAt, lawCharacteristics, LAWS, makeLaw, type LawId, type LawParameters } from '../law';
import { writeCsv } from './csv';

const figure = (value: number) => (Number.isFinite(value) ? Number(value.toPrecision(10)) : 'inf');

/** Characteristic values of all laws as CSV: `law,Cv,Ca,Cj`; `inf` where a step makes it infinite. */
export function lawsCsv(): string {
  return writeCsv(
    ['law', 'Cv', 'Ca', 'Cj'],
    LAWS.map(({ id }) => {
      const { cv, ca, cj } = lawCharacteristics(makeLaw(id));
      return [id, figure(cv), figure(ca), figure(cj)];
    }),
  );
}

/** One law over evenly spaced τ as CSV: `tau,f,f1,f2,f3`. At a step the value after it is given. */
export function lawCsv(id: LawId, points: number, parameters?: LawParameters): string {
  const law = makeLaw(id, parameters);
  return writeCsv(
    ['tau', 'f', 'f1', 'f2', 'f3'],
    Array.from({ length: points }, (_, k) => {
      const tau = k / (points - 1);
      return [tau, ...lawAt(law, tau)].map((value) => Number(value.toPrecision(15)));
    }),
  );
}
