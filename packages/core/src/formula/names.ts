import { LAW_IDS } from '../law';
import { FUNCTIONS, LOOKUP_WAYS, VARIABLES } from './language';
import { UNITS } from './units';

const RESERVED = new Set([...FUNCTIONS, ...VARIABLES].map(({ name }) => name).concat(LAW_IDS, LOOKUP_WAYS, ['arc']));

/** Why a name cannot be given to a constant, or null where it can. */
export function constantNameProblem(name: string): string | null {
  if (!/^[A-Za-z_]\w{0,39}$/.test(name))
    return 'must be one word of letters, digits and “_”, not beginning with a digit';
  if (Object.hasOwn(UNITS, name)) return `is the name of a unit`;
  if (RESERVED.has(name) || ['and', 'or', 'not', 'xor'].includes(name)) return 'has a meaning in formulas already';
  return null;
}
