import { wordsOfMessage } from '../../../core/music/outside';
import { instrumentsUsed } from '../../../core/rig/edits/outside';
import type { Patch, Rig } from '../../../core/rig/schema';
import { useRefresh } from '../../parts/useLive';
import { session } from '../../sound/session';

/** What a patch tells instruments outside when it is entered, and which of their outputs are not there. */
export function ToldOutside({ rig, patch }: { rig: Rig; patch: Patch }) {
  useRefresh(session.outputs);
  const used = instrumentsUsed(patch);
  return rig.instruments
    .filter(({ id }) => used.includes(id))
    .map(({ id, name, output }) => {
      const enter = patch.told.find((each) => each.id === id)?.enter ?? [];
      const missing = !session.outputs.has(output);
      return (
        <p key={id} className={`px-2 pb-1 text-[13px] ${missing ? 'font-bold text-alarm' : 'text-faint'}`}>
          <span dir="auto">{name}</span>
          {missing ? (output === '' ? ': no output chosen' : `: “${output}” is not there`) : ''}
          {enter.length > 0 ? ` · ${enter.map(wordsOfMessage).join(', ')}` : ''}
        </p>
      );
    });
}
