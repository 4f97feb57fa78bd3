import { soundsOf } from '../../rig/defaults';
import { rowsOfPatch } from '../../rig/waveRows';
import { rowsWithoutRoom } from '../../sounds/synth/waveRoom';
import { TABLES } from '../../sounds/synth/tables';
import { quoted, type Rule } from '../finding';

/** More rows of waves than oscillators have room for. */
export const noRoomForWaves: Rule = {
  id: 'no-room-for-waves',
  shelf: 'show',
  title: 'More rows of waves than there is room for',
  why: 'An oscillator whose row has no room plays a plain saw.',
  help: 'Adds up the room that the rows of waves of all synths of a patch take, as they are laid out for being read at any pitch, and compares it with what there is: about fourteen rows of thirty-two waves. Oscillators that play the same row share it.',
  *find({ rig, patch }) {
    const rows = rowsOfPatch(patch, rig.sounds);
    const without = rowsWithoutRoom(
      rows.map(({ row }) => row),
      (table) => rig.samples.find(({ id }) => id === table)?.frames ?? 0,
    );
    for (const { table } of without) {
      const { sound } = rows.find(({ row }) => row.table === table)!;
      const name =
        TABLES.find(({ id }) => id === table)?.label ?? rig.samples.find(({ id }) => id === table)?.name ?? table;
      const layerIds = patch.layers.filter((layer) => soundsOf(layer).includes(sound.id)).map(({ id }) => id);
      yield {
        grade: 'sure',
        where: { patchId: patch.id, layerIds, soundId: sound.id },
        hear: null,
        fixes: [],
        message: `The row of waves “${name}” of ${quoted(sound)} has no room beside the others of this patch: its oscillators play a plain saw.`,
      };
    }
  },
};
