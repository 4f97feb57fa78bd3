import type { LayerParameterId } from '../../../../core/rig/parameters';

/** The parts of a synth as they are shown: mark, colour and name. */
export interface KindPart {
  id: string;
  glyph: string;
  colour: string;
  name: string;
}
export const SYNTH_SHOWN: readonly KindPart[] = [
  { id: 'osc1', glyph: '●', colour: 'var(--teal)', name: 'oscillator 1' },
  { id: 'osc2', glyph: '▲', colour: 'var(--clay)', name: 'oscillator 2' },
  { id: 'osc3', glyph: '■', colour: 'var(--indigo)', name: 'oscillator 3' },
  { id: 'sub', glyph: '◆', colour: 'var(--ochre)', name: 'sub' },
  { id: 'noise', glyph: '≈', colour: 'var(--slate)', name: 'noise' },
  { id: 'filter1', glyph: '1', colour: 'var(--plum)', name: 'first filter' },
  { id: 'filter2', glyph: '2', colour: 'var(--plum)', name: 'second filter' },
];

/** A parameter of one oscillator. */
export const oscillatorId = (n: number, name: string): LayerParameterId => `osc${n + 1}${name}` as LayerParameterId;

/** In which part of a synth's panel a parameter stands. */
export const kindPartOf = (id: string): string =>
  /^osc\d/.exec(id)?.[0] ??
  (id.startsWith('sub') ? 'sub' : id.startsWith('noise') ? 'noise' : id.startsWith('grain') ? 'grains' : 'osc1');
