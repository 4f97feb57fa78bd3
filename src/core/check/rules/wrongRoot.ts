import { nameOfKey } from '../../music/noteNames';
import { updateSound, updateZones } from '../../rig/edits/zones';
import { CP, quoted, type Rule } from '../finding';
import { bySound, heardZones, offPitch, strikeOf } from '../recordings';
import { isRow } from '../roles';

/**
 * Zones whose recording sounds at another key than its root: most often an octave off, where two ways of naming octaves
 * met.
 */
export const wrongRoot: Rule = {
  id: 'wrong-root',
  shelf: 'samples',
  title: 'A wrong root',
  why: 'A note at the wrong pitch is the one mistake that everybody in the hall hears.',
  help: 'Compares the pitch that is heard in each recording (McLeod and Wyvill, ICMC 2005) with the root of its zone. Whole octaves come of file names that count octaves from another C; where only some zones of a sound are off by one, two conventions were mixed. Only recordings whose pitch is clear are judged; drums and effects are left alone.',
  thresholds: {
    cents: { label: 'least that counts as another key', unit: 'cents', value: 60, low: 20, high: 1200, source: CP },
    clarity: { label: 'how clear the pitch must be', unit: '0…1', value: 0.9, low: 0.5, high: 1, source: CP },
  },
  *find(subject) {
    const { rig, patch, threshold } = subject;
    for (const { layer, sound, zones } of bySound(heardZones(subject))) {
      if (isRow(rig, patch, layer)) continue;
      const judged = zones.flatMap((each) => {
        const off = offPitch(each, threshold('clarity'));
        return off === undefined ? [] : [{ ...each, off }];
      });
      const groups = new Map<number, typeof judged>();
      for (const each of judged)
        if (Math.abs(each.off) >= threshold('cents'))
          groups.set(Math.round(each.off / 100), [...(groups.get(Math.round(each.off / 100)) ?? []), each]);
      for (const [keys, wrong] of groups) {
        if (keys === 0) continue;
        const octaves = keys % 12 === 0 ? Math.abs(keys / 12) : 0;
        const far =
          octaves === 1
            ? 'an octave'
            : octaves > 1
              ? `${octaves} octaves`
              : Math.abs(keys) === 1
                ? 'a semitone'
                : `${Math.abs(keys)} semitones`;
        const first = wrong[0];
        yield {
          grade: 'measured',
          where: {
            patchId: patch.id,
            layerIds: [layer.id],
            soundId: sound.id,
            zones: wrong.map(({ place }) => place),
            keys: [first.zone.root, first.zone.root],
          },
          hear: { strikes: wrong.slice(0, 4).map((each) => strikeOf(patch, each)), alone: [layer.id] },
          message: `${wrong.length === judged.length && judged.length > 1 ? 'All' : wrong.length} of ${judged.length} zones of ${quoted(sound)} sound ${far} ${keys > 0 ? 'above' : 'below'} their root${octaves > 0 && wrong.length < judged.length ? ': two ways of naming octaves were mixed' : ''}, the first at ${nameOfKey(first.zone.root, 4)}.`,
          fixes: [
            {
              label: `Move ${wrong.length === 1 ? 'its root' : 'their roots'} ${far} ${keys > 0 ? 'up' : 'down'}`,
              safe: true,
              edit: (old) =>
                updateSound(old, sound.id, (value) =>
                  updateZones(value, new Set(wrong.map(({ place }) => place)), (zone) => ({
                    ...zone,
                    root: Math.max(0, Math.min(127, zone.root + keys)),
                  })),
                ),
            },
          ],
        };
      }
    }
  },
};
