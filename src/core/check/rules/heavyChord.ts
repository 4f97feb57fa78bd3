import { CP, type Rule } from '../finding';

/** A patch whose worst chord comes close to what the machine can do. */
export const heavyChord: Rule = {
  id: 'heavy-chord',
  shelf: 'show',
  title: 'Near the limit of this machine',
  why: 'Where the load reaches the whole of a core, sound breaks up.',
  help: 'Plays ten keys at once with all effects, away from the page, and measures the share of one core that it takes on this machine. It is told once it was measured twice with the same result: what the machine does beside is not the patch’s.',
  thresholds: { load: { label: 'highest load', unit: '%', value: 70, low: 5, high: 100, source: CP } },
  *find({ patch, threshold, heard }) {
    const chord = heard?.chord;
    // A load that changed from one time to the next was that of something else.
    if (!chord?.steady || chord.load * 100 <= threshold('load')) return;
    yield {
      grade: 'taste',
      where: { patchId: patch.id, layerIds: [], keys: [chord.keys[0], chord.keys[chord.keys.length - 1]] },
      hear: { strikes: chord.keys.map((key) => ({ key, velocity: 127 })), together: true },
      fixes: [],
      message: `Ten fingers make ${chord.voices} voices and take ${Math.round(chord.load * 100)} % of a core of this machine.`,
    };
  },
};
