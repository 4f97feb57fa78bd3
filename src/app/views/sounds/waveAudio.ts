import { useEffect, useState } from 'react';
import type { Audio } from '../../../core/dsp/sample';
import type { Zone } from '../../../core/rig/schema';
import { soundLab } from '../../document/soundLab';

/** A zone that loops: its own loop, or its last third. */
export function withLoop(zone: Zone, frames: number): Zone {
  if (zone.loop) return zone;
  const played = (zone.end ?? frames) - zone.start;
  return {
    ...zone,
    loop: {
      start: zone.start + Math.round(played * 0.6),
      end: Math.max(zone.start + Math.round(played * 0.6) + 1, zone.start + Math.round(played * 0.9)),
      crossfade: 0,
      until: 'end',
    },
  };
}

export function useAudio(sampleId: string): { audio: Audio | null; problem: string | null } {
  const [state, setState] = useState<{ id: string; audio: Audio | null; problem: string | null }>({
    id: '',
    audio: null,
    problem: null,
  });
  useEffect(() => {
    let live = true;
    soundLab.audio(sampleId).then(
      (audio) => {
        if (live) setState({ id: sampleId, audio, problem: null });
      },
      (error: Error) => {
        if (live) setState({ id: sampleId, audio: null, problem: error.message });
      },
    );
    return () => {
      live = false;
    };
  }, [sampleId]);
  return state.id === sampleId ? state : { audio: null, problem: null };
}
