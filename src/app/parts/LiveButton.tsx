import { Mic, MicOff } from 'lucide-react';
import { usesInput } from '../../core/rig/moves';
import type { Patch } from '../../core/rig/schema';
import { useAppSelector } from '../document/store';
import { session } from '../sound/session';
import { useRefresh } from './useLive';

/** Opens and mutes what comes in from outside; only where a layer of the patch hears it. */
export function LiveButton({ patch, className, size }: { patch: Patch; className: string; size: number }) {
  const sounds = useAppSelector((state) => state.rig.rig!.sounds);
  useRefresh(session.live);
  const { live } = session;
  if (!usesInput(patch, sounds)) return null;
  const open = live.state === 'open';
  return (
    <button
      className={`${className} ${open ? 'bg-ink! text-paper!' : live.problem ? 'text-alarm!' : ''}`}
      aria-pressed={open}
      aria-label="Input"
      title={
        open
          ? 'The input is heard: mute it'
          : live.problem
            ? `The input is muted: ${live.problem}`
            : 'The input is muted: open it'
      }
      onClick={() => (open ? live.mute() : void live.open())}
    >
      {open ? <Mic size={size} /> : <MicOff size={size} />}
      <span className={size > 16 ? 'text-[14px] max-lg:sr-only' : 'sr-only'}>{open ? 'Input' : 'Input muted'}</span>
    </button>
  );
}
