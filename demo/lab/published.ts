/** What is published of instruments of this kind, as the lab prints it beside what it measures; each with its source. */
export const PUBLISHED: Readonly<Record<string, readonly string[]>> = {
  'felt-keys': [
    'Two stages: the aftersound lies 10 to 20 dB below the first sound and falls several times slower (G. ' +
      'Weinreich, “Coupled piano strings”, JASA 62, 1977; from memory).',
    'Seconds to −60 dB: bass over 12, middle 5 to 8, top about 1 (as D. W. Martin, “Decay rates of piano tones”, ' +
      'JASA 19, 1947, found rates from about 4 to 80 dB a second; from memory).',
    'Inharmonicity B from 1 · 10⁻⁴ in the bass to over 10⁻² at the top (H. Fletcher, E. D. Blackham, R. Stratton, ' +
      'JASA 34, 1962; from memory).',
    'Dampers stop a string in 80 to 200 ms; the highest have none (common practice, no source).',
  ],
  'harbour-bells': [
    'Hum, prime, tierce, quint, nominal: 0.5 : 1 : 1.2 : 1.5 : 2 (T. D. Rossing and R. Perrin, Applied Acoustics ' +
      '20, 1987; from memory).',
  ],
  'tide-tines': [
    'Clamped bar: 1 : 6.267 : 17.55 (N. H. Fletcher and T. D. Rossing, The physics of musical instruments, 1998; ' +
      'from memory).',
  ],
  'drift-bars': ['Bars of wood: 1 : 3.9 : 9.2; fall in 0.5 to 2.5 s (Fletcher and Rossing, chapter 19; from memory).'],
  'lamp-bars': [
    'Bars of metal: 1 : 4 : 10; ring for 5 to 10 s undamped (Fletcher and Rossing, chapter 19; from memory).',
  ],
  'signal-horn': [
    'Brighter the louder; upper partials come later (J.-C. Risset and M. V. Mathews, Physics Today 22, 1969; from ' +
      'memory).',
  ],
  'bowed-wire': ['Vibrato 5 to 7 Hz, not a sine (J. Sundberg, STL-QPSR 35, 1994; from memory).'],
  'breath-choir': [
    'Vibrato 5 to 7 Hz (J. Sundberg, STL-QPSR 35, 1994; from memory); formants near 620, 1050, 2550 Hz (G. E. ' +
      'Peterson and H. L. Barney, JASA 24, 1952; from memory).',
  ],
};
