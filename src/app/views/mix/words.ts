import { effectKind } from '../../../core/effects';
import { effectParam } from '../../../core/rig/defaults';
import { effectsIn } from '../../../core/rig/mix';
import type { Patch } from '../../../core/rig/schema';

const hertz = (hz: number): string => (hz >= 1000 ? `${Number((hz / 1000).toFixed(1))}k` : String(Math.round(hz)));

/** What stands on an effect's mark: its kind, or what it does where that is said in few words. */
export function shortNameOf(patch: Patch, id: string): string {
  const effect = effectsIn(patch).find((found) => found.effect.id === id)?.effect;
  if (!effect) return '';
  if (effect.kind === 'equaliser') {
    const used = Array.from({ length: 8 }, (_, n) => n + 1).filter((n) => effectParam(effect, `kind${n}`) > 0);
    const [only] = used;
    if (used.length === 1 && effectParam(effect, `kind${only}`) <= 2)
      return `${effectParam(effect, `kind${only}`) === 1 ? 'low cut' : 'high cut'} ${hertz(effectParam(effect, `frequency${only}`))}`;
  }
  return effectKind(effect.kind).label;
}
