import { SHARE } from '../../../core/rig/parameters';
import type { Patch } from '../../../core/rig/schema';
import { FrontStrips } from '../../parts/FrontStrips';
import { Strip } from '../../parts/Strip';
import { useStore } from '../../parts/useLive';
import { session } from '../../sound/session';

/** The patch's macros, to play: where they start is set in Control, and stays as it is here. */
export function MacroStrips({ patch }: { patch: Patch }) {
  // At once, not at the next frame: the next key goes on from here.
  useStore(session.hands, (hands) => hands.controls);
  return (
    <div className="flex flex-col gap-1.5">
      <h2 className="heading">{patch.macros.length > 0 ? 'Macros' : 'Front'}</h2>
      {patch.macros.map((macro) => (
        <Strip
          key={macro.number}
          parameter={{
            ...SHARE,
            default: macro.value,
            label: `${macro.number} ${macro.name}`,
            help: 'Plays the macro: it moves what is routed to it, and whatever windows look at it. Double-click: back to where it starts.',
          }}
          value={session.liveOf(`macro.${macro.number}`) ?? macro.value}
          colour="var(--plum)"
          plays
          onChange={(value) => session.moveLive(`macro.${macro.number}`, value)}
        />
      ))}
      <FrontStrips patch={patch} />
    </div>
  );
}
