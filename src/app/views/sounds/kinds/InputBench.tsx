import { useCallback, useEffect, useRef, useState } from 'react';
import { speakThrough } from '../../../../core/rig/edits/mix';
import type { LayerParameterId } from '../../../../core/rig/parameters';
import type { Layer, Patch, Sound } from '../../../../core/rig/schema';
import { INPUT_PARAMETERS } from '../../../../core/sounds/input/parameters';
import { audioInputs, STAND_IN_INPUT, type AudioInput } from '../../../../host/audioInputs';
import { settingsSlice } from '../../../document/settingsSlice';
import { editPatch, useAppDispatch, useAppSelector } from '../../../document/store';
import { minus } from '../../../parts/format';
import { useFrames, useRefresh } from '../../../parts/useLive';
import { session } from '../../../sound/session';
import { KindStrip } from './KindStrip';

const LOWEST_DB = -60;

/** A sound that comes in from outside: the device of this machine, whether it is open, and how it is let in. */
export function InputBench({ patch, sound, layer }: { patch: Patch; sound: Sound; layer: Layer | null }) {
  return (
    <div className="flex min-h-0 flex-col gap-4 overflow-y-auto p-5 [scrollbar-width:thin]">
      <LivePart />
      <section aria-label="How it is let in" className="grid max-w-[640px] gap-1.5">
        <h3 className="heading">How it is let in</h3>
        {(Object.keys(INPUT_PARAMETERS) as LayerParameterId[]).map((id) => (
          <KindStrip key={id} patch={patch} layer={layer} sound={sound} id={id} colour="var(--teal)" />
        ))}
        <p className="text-[12px] text-faint">
          It goes on through the filters, windows, effects and sends of its layer, as every sound does. The vocoder, the
          scale tuner and followers of other layers can listen to it.
        </p>
        {layer && <SpeakThrough patch={patch} layer={layer} />}
      </section>
    </div>
  );
}

/** One step to what most inputs are for: a vocoder on another layer that listens to this one. */
function SpeakThrough({ patch, layer }: { patch: Patch; layer: Layer }) {
  const dispatch = useAppDispatch();
  const others = patch.layers.filter(({ id }) => id !== layer.id);
  if (others.length === 0) return null;
  return (
    <label className="flex items-center gap-2 text-[13px]">
      Speak through
      <select
        className="field"
        value=""
        onChange={({ target: { value } }) => {
          if (value) dispatch(editPatch(patch.id, (old) => speakThrough(old, layer.id, value)));
        }}
      >
        <option value="">a layer …</option>
        {others.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
      <span className="text-[12px] text-faint">
        a vocoder there listens to this one, which is no longer heard itself
      </span>
    </label>
  );
}

function LivePart() {
  const dispatch = useAppDispatch();
  const wanted = useAppSelector((state) => state.settings.input);
  const [inputs, setInputs] = useState<readonly AudioInput[]>([STAND_IN_INPUT]);
  const meter = useRef<HTMLDivElement>(null);
  const number = useRef<HTMLSpanElement>(null);
  useRefresh(session.live);
  const { live } = session;
  const { state, problem } = live;
  useEffect(() => {
    let alive = true;
    void audioInputs().then((found) => {
      if (alive) setInputs(found);
    });
    return () => {
      alive = false;
    };
  }, [state]);
  useFrames(
    useCallback(() => {
      const db = Math.max(LOWEST_DB, 20 * Math.log10(session.live.level + 1e-9));
      if (meter.current) meter.current.style.width = `${100 * (1 - db / LOWEST_DB)}%`;
      if (number.current) number.current.textContent = db <= LOWEST_DB ? 'silent' : `${minus(db.toFixed(0))} dB`;
    }, []),
  );
  const latency = session.audio.latencyMs;
  const shown = wanted && !inputs.some(({ id }) => id === wanted.id) ? [...inputs, wanted] : inputs;
  return (
    <section aria-label="Input" className="grid max-w-[640px] gap-2">
      <h3 className="heading">Input of this machine</h3>
      <div className="flex items-center gap-1.5">
        <select
          className="field min-w-0 flex-1"
          aria-label="Audio input"
          value={wanted?.id ?? ''}
          onChange={(event) =>
            dispatch(
              settingsSlice.actions.inputChosen(shown.find(({ id }) => id !== '' && id === event.target.value) ?? null),
            )
          }
        >
          {!shown.some(({ id }) => id === '') && <option value="">the one that the system has chosen</option>}
          {shown.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
        <button
          className="button h-9 px-4!"
          aria-pressed={state === 'open'}
          disabled={state === 'asking'}
          onClick={() => (state === 'open' ? live.mute() : void live.open())}
        >
          {state === 'open' ? 'Mute' : state === 'asking' ? 'asking …' : 'Open'}
        </button>
      </div>
      <div className="flex items-center gap-2">
        <div aria-hidden className="h-3 flex-1 overflow-hidden rounded-full border border-edge">
          <div ref={meter} className="h-full bg-teal" />
        </div>
        <span ref={number} className="number w-16 text-right text-[12.5px]" />
      </div>
      <p role="status" className={`text-[12.5px] ${problem ? 'text-alarm' : 'text-faint'}`}>
        {problem
          ? `Muted: ${problem}.`
          : state === 'open'
            ? `It is heard${latency ? `, about ${(2 * latency.base + latency.output).toFixed(0)} ms after it sounds` : ''}. Silence mutes it.`
            : 'Muted, until it is opened here or by the microphone beside the take. Use phones: what the loudspeaker plays comes in again.'}
      </p>
    </section>
  );
}
