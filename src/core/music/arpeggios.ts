/** The order in which an arpeggio goes through the keys that are held. */
export const ARPEGGIO_ORDERS = ['up', 'down', 'up-down', 'as-played', 'random', 'chord', 'outside-in'] as const;
export type ArpeggioOrder = (typeof ARPEGGIO_ORDERS)[number];
export const ARPEGGIO_ORDER_WORDS: Record<ArpeggioOrder, string> = {
  up: 'up',
  down: 'down',
  'up-down': 'up and down',
  'as-played': 'as played',
  random: 'random',
  chord: 'all at once',
  'outside-in': 'outside in',
};

/** Steps of a pattern at the most. */
export const MOST_PATTERN = 32;

/**
 * One step: a note, the last note going on, or nothing; its share of the played velocity 0…1.5, octaves added, the
 * chance 0…1 that it sounds.
 */
export interface ArpeggioStep {
  kind: 'note' | 'tie' | 'rest';
  velocity: number;
  octave: number;
  chance: number;
}

const step = (kind: ArpeggioStep['kind'] = 'note', velocity = 1, octave = 0, chance = 1): ArpeggioStep => ({
  kind,
  velocity,
  octave,
  chance,
});

/**
 * A pattern in short: `x` a note, `X` a strong one, `o` a soft one, `^` one an octave higher, `v` one lower, `?` one
 * that sounds as often as not, `-` the last one goes on, `.` a rest.
 */
export function patternOf(text: string): ArpeggioStep[] {
  return [...text.replace(/\s/g, '')].map((sign) => {
    switch (sign) {
      case 'X':
        return step('note', 1.25);
      case 'o':
        return step('note', 0.6);
      case '^':
        return step('note', 1, 1);
      case 'v':
        return step('note', 1, -1);
      case '?':
        return step('note', 0.8, 0, 0.5);
      case '-':
        return step('tie');
      case '.':
        return step('rest');
      default:
        return step();
    }
  });
}

/** An arpeggio to try: its order, note value and pattern. */
export interface ArpeggioPreset {
  name: string;
  order: ArpeggioOrder;
  rate: string;
  octaves: number;
  swing: number;
  gate: number;
  pattern: string;
}
const preset = (
  name: string,
  order: ArpeggioOrder,
  rate: string,
  pattern: string,
  octaves = 1,
  gate = 70,
  swing = 50,
): ArpeggioPreset => ({ name, order, rate, octaves, swing, gate, pattern });

/** Arpeggios of ours. */
export const ARPEGGIO_PRESETS: readonly ArpeggioPreset[] = [
  preset('Even water', 'up', '1/16', 'x'),
  preset('Ebb', 'down', '1/16', 'Xxox'),
  preset('Rise and fall', 'up-down', '1/16', 'Xoxo'),
  preset('Oars', 'up', '1/8', 'X-x. x-o.'),
  preset('Rowlock', 'as-played', '1/8', 'Xx.x ox.x'),
  preset('Pebbles', 'random', '1/16', 'xo.x ?xo. x?ox .xo?'),
  preset('Bell buoy', 'outside-in', '1/8', 'X--o --x-'),
  preset('Three and two', 'up', '1/16', 'Xox Xox Xo Xox Xox Xo'),
  preset('Long swell', 'up-down', '1/4', 'x-', 2, 100),
  preset('Spray', 'random', '1/32', 'xo?x', 3, 40),
  preset('Lighthouse', 'as-played', '1/4', 'X..o'),
  preset('Winch', 'up', '1/16', 'Xx^x', 1, 55),
  preset('Halyard', 'up', '1/16', 'x^x^ xo^o', 2, 60),
  preset('Anchor chain', 'down', '1/16', 'Xv.x ov.x', 1, 50),
  preset('Ferry', 'chord', '1/8', 'X.oX .oX.', 1, 45),
  preset('Foghorn', 'chord', '1/2', 'X-', 1, 90),
  preset('Triplet tide', 'up-down', '1/8 triplet', 'Xox', 2),
  preset('Jig', 'up', '1/8 triplet', 'X-ox-o', 1, 80),
  preset('Limping gull', 'up', '1/16', 'Xoxo', 1, 65, 66),
  preset('Night watch', 'outside-in', '1/4', 'x?-?', 2, 95),
  preset('Slow lantern', 'up', '1/4 dotted', 'Xo', 2, 90),
  preset('Rain on tin', 'random', '1/16', 'x.o? x.?o', 2, 35),
  preset('Shuttle', 'as-played', '1/16', 'Xo.o Xo^.', 1, 60),
  preset('Drift ice', 'down', '1/8 dotted', 'X-o?', 3, 100),
];
