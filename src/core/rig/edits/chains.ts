import { ValidationError } from 'yup';
import { heldName } from '../names';
import { problemOf } from '../read';
import { effectSchema, MOST_CHAIN, type EffectSpec } from '../schema';

/**
 * A chain of effects as a file: its name and its effects. What it listens to and works with belongs to a patch, and
 * stays there.
 */
export const writeChain = (name: string, effects: readonly EffectSpec[]): string =>
  JSON.stringify(
    { kind: CHAIN_KIND, name, effects: effects.map((effect) => ({ ...effect, listens: null, sampleId: null })) },
    null,
    2,
  );
const CHAIN_KIND = 'chain of effects';

/** Reads what {@link writeChain} wrote. Throws an Error that says what is wrong with it and where. */
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
