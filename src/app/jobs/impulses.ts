import { updateEffect } from '../../core/rig/edits/mix';
import { updatePatch } from '../../core/rig/edits/layers';
import { addSamples } from '../../core/rig/edits/zones';
import { edit, notice, store } from '../document/store';
import { lookAt } from './tray';

/** Brings a recording in and gives it to an effect to work with; what cannot be read is told, and nothing changes. */
export async function bringImpulse(patchId: string, effectId: string, file: File): Promise<void> {
  try {
    const { sample } = await lookAt(file.name, file);
    store.dispatch(
      edit((rig) =>
        updatePatch(addSamples(rig, [sample]), patchId, (patch) =>
          updateEffect(patch, effectId, { sampleId: sample.id }),
        ),
      ),
    );
  } catch (error) {
    store.dispatch(
      notice(
        'problem',
        `“${file.name}” was not brought in: ${error instanceof Error ? error.message : String(error)}.`,
      ),
    );
  }
}
