import { nameOfKey } from '../../music/noteNames';
import { updateSound } from '../../rig/edits/zones';
import { CP, quoted, told, type Rule } from '../finding';
import { bySound, heardZones, offPitch, strikeOf } from '../recordings';
import { isRow } from '../roles';

/** Zones that are a little off pitch against the others of their sound. */
export const outOfTune: Rule = {
  id: 'out-of-tune',
  shelf: 'samples',
  title: 'Out of tune',
  why: 'A few cents between neighbours are heard as soon as two of them sound together.',
  help: 'Compares the pitch heard in each recording with its root, against the middle of all zones of the sound: a sound that is tuned high as a whole is left as it is. Below half a semitone; beyond that the root is wrong.',
  thresholds: {
    cents: {
      label: 'greatest distance',
      unit: 'cents',
      value: 8,
      low: 1,
      high: 50,
      source: `${CP}; 5 cents are about what can be told apart in a row (from memory)`,
    },
    clarity: { label: 'how clear the pitch must be', unit: '0…1', value: 0.95, low: 0.5, high: 1, source: CP },
  },
  *find(subject) {
    const { rig, patch, threshold } = subject;
    for (const { layer, sound, zones } of bySound(heardZones(subject))) {
      if (isRow(rig, patch, layer)) continue;
      const judged = zones.flatMap((each) => {
        const off = offPitch(each, threshold('clarity'));
        return off === undefined || Math.abs(off) > 60 ? [] : [{ ...each, off }];
      });
      if (judged.length === 0) continue;
      const sorted = judged.map(({ off }) => off).sort((a, b) => a - b);
      const middle = judged.length < 3 ? 0 : sorted[sorted.length >> 1];
      const wrong = judged.filter(({ off }) => Math.abs(off - middle) > threshold('cents'));
      if (wrong.length === 0) continue;
      const worst = wrong.reduce((a, b) => (Math.abs(b.off - middle) > Math.abs(a.off - middle) ? b : a));
      yield {
        grade: 'measured',
        where: {
          patchId: patch.id,
          layerIds: [layer.id],
          soundId: sound.id,
          zones: wrong.map(({ place }) => place),
          keys: [worst.zone.root, worst.zone.root],
        },
        hear: { strikes: [strikeOf(patch, worst)], alone: [layer.id] },
        message: `${wrong.length} of ${judged.length} zones of ${quoted(sound)} ${wrong.length === 1 ? 'is' : 'are'} out of tune, at most by ${told(worst.off - middle)} cents at ${nameOfKey(worst.zone.root, 4)}.`,
        curve: {
          over: 'key',
          unit: 'cents',
          points: [...judged]
            .sort((a, b) => a.zone.root - b.zone.root)
            .map(({ zone, off }) => [zone.root, off] as const),
          mark: worst.zone.root,
        },
        fixes: [
          {
            label: `Tune ${wrong.length === 1 ? 'it' : 'them'} to the others`,
            safe: true,
            edit: (old) =>
              updateSound(old, sound.id, (value) => ({
                ...value,
                zones: value.zones.map((zone, place) => {
                  const found = wrong.find((each) => each.place === place);
                  return found
                    ? {
                        ...zone,
                        tune: Math.max(-1200, Math.min(1200, Math.round((zone.tune - found.off + middle) * 10) / 10)),
                      }
                    : zone;
                }),
              })),
          },
        ],
      };
    }
  },
};
