import { ValidationError } from 'yup';
import { MOST_CHAIN } from '../limits';
import { heldName } from '../names';
import { problemOf } from '../read';
import { effectSchema, type EffectSpec } from '../schema';
import { CHAIN_KIND } from './chains';

/** Reads what `writeChain` wrote. Throws an Error that says what is wrong with it and where. */
export function readChain(text: string): { name: string; effects: EffectSpec[] } {
  let found: { kind?: unknown; name?: unknown; effects?: unknown } | null;
  try {
    found = JSON.parse(text) as typeof found;
  } catch {
    throw new Error('this is not JSON text, or it is cut off');
  }
  if (found?.kind !== CHAIN_KIND || !Array.isArray(found.effects)) throw new Error('this is no chain of effects');
  if (found.effects.length > MOST_CHAIN) throw new Error(`it has more than ${MOST_CHAIN} effects`);
  const effects = found.effects.map((effect: unknown, i) => {
    try {
      return effectSchema.validateSync(effect, { strict: true });
    } catch (error) {
      throw new Error(
        `effects[${i}]${error instanceof ValidationError ? `${error.path ? `.${error.path}` : ''}: ${problemOf(error)}` : ''}`,
        { cause: error },
      );
    }
  });
  return {
    name: heldName(typeof found.name === 'string' ? found.name : '') || 'chain',
    effects: effects.map((effect) => ({ ...effect, listens: null, sampleId: null })) as EffectSpec[],
  };
}
