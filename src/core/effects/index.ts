import { compressor } from './compressor';
import type { EffectKind } from './effect';
import { equaliser } from './equaliser';
import { reverb } from './reverb';

/** Every sort of effect, in the order in which they are offered. An effect is one file and one line here. */
export const EFFECTS: readonly EffectKind[] = [equaliser, compressor, reverb];
export const EFFECT_IDS: readonly string[] = EFFECTS.map(({ id }) => id);
export const effectKind = (id: string): EffectKind => EFFECTS.find((kind) => kind.id === id)!;
/** Place among {@link EFFECTS}. */
export const placeOfKind = (id: string): number => EFFECTS.findIndex((kind) => kind.id === id);
export { FAMILIES, MOST_EFFECT_PARAMETERS, MOST_READINGS, type Effect, type EffectContext, type EffectKind, type Family, type PictureKind, type Preset } from './effect';
