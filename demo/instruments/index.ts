import { bowedWire } from './bowedWire';
import { breathChoir } from './breathChoir';
import { driftBars, lampBars } from './driftBars';
import { feltKeys } from './feltKeys';
import { harbourBells } from './harbourBells';
import { hullBass } from './hullBass';
import { drawnPipes, quayWheels } from './pipes';
import { quillBox } from './quillBox';
import { reedBank } from './reedBank';
import { ropeReeds } from './ropeReeds';
import { signalHorn } from './signalHorn';
import { tideTines } from './tideTines';
import type { Recording, Wanted } from './tools';

export interface Instrument {
  id: string;
  name: string;
  tags: readonly string[];
  notes: string;
  record: (wants?: Wanted) => Recording[];
}

const instrument = (
  id: string,
  name: string,
  record: (wants?: Wanted) => Recording[],
  tags: string[],
  notes = '',
): Instrument => ({
  id,
  name,
  record,
  tags,
  notes,
});

/** Everything that our models make recordings of, on keys; the tins are a kit of their own. */
export const INSTRUMENTS = {
  felt: instrument(
    'felt-keys',
    'Felt Keys',
    feltKeys,
    ['struck', 'keys', 'warm'],
    'Strings under felt, four dynamics. The fall is the envelope’s: its decay and release are those of each key.',
  ),
  wire: instrument('bowed-wire', 'Bowed Wire', bowedWire, ['bowed', 'long', 'bright']),
  bells: instrument('harbour-bells', 'Harbour Bells', harbourBells, ['struck', 'metal', 'bright']),
  hull: instrument('hull-bass', 'Hull Bass', hullBass, ['plucked', 'bass']),
  reeds: instrument('reed-bank', 'Reed Bank', reedBank, ['blown', 'long']),
  choir: instrument('breath-choir', 'Breath Choir', breathChoir, ['sung', 'long', 'warm']),
  tines: instrument('tide-tines', 'Tide Tines', tideTines, ['struck', 'keys', 'metal']),
  rope: instrument('rope-reeds', 'Rope Reeds', ropeReeds, ['struck', 'keys', 'bright']),
  quill: instrument('quill-box', 'Quill Box', quillBox, ['plucked', 'keys', 'bright']),
  drift: instrument('drift-bars', 'Drift Bars', driftBars, ['struck', 'wood', 'mallets']),
  lamp: instrument('lamp-bars', 'Lamp Bars', lampBars, ['struck', 'metal', 'mallets']),
  horn: instrument('signal-horn', 'Signal Horn', signalHorn, ['blown', 'brass', 'long']),
  pipes: instrument('drawn-pipes', 'Drawn Pipes', drawnPipes, ['blown', 'organ', 'long']),
  wheels: instrument('quay-wheels', 'Quay Wheels', quayWheels, ['organ', 'long']),
} as const satisfies Record<string, Instrument>;
