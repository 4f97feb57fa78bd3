import { useEffect, useMemo, useRef, useState } from 'react';
import { rowsOfPatch } from '../../../../core/rig/waveRows';
import { rowsWithoutRoom } from '../../../../core/sounds/synth/waveRoom';
import { setWaves } from '../../../../core/rig/edits/kinds';
import { setParam } from '../../../../core/rig/edits/layers';
import { colourOf } from '../../../parts/Mark';
import type { LayerParameterId, Parameter } from '../../../../core/rig/parameters';
import { LAYER_PARAMETERS } from '../../../../core/rig/layerParameters';
import type { Layer, Patch, Sound } from '../../../../core/rig/schema';
import { OSCILLATOR_SHAPES, OTHERS, WAVES_SHAPE } from '../../../../core/sounds/synth/parameters';
import { TABLES } from '../../../../core/sounds/synth/tables';
import { wavesKey } from '../../../../core/engine/program/program';
import { oscillatorPicture } from '../../../../core/engine/pictures/synthPicture';
import { useFrames } from '../../../parts/useLive';
import { session } from '../../../sound/session';
import { rigSlice } from '../../../document/rigSlice';
import { editPatch, editSound, useAppDispatch, useAppSelector } from '../../../document/store';
import { soundsSlice } from '../soundsSlice';
import { layerOrSound, valueNow, valueOf } from './soundLayer';
import { oscillatorId, SYNTH_SHOWN, type KindPart } from './partsOf';
import { SoundSpectrum } from './SoundSpectrum';
import { useWaveRow, WaveChart } from './WaveChart';
import { write } from '../../../parts/write';

interface Props {
  patch: Patch;
  sound: Sound;
  layer: Layer | null;
}

/** A synth: its oscillators as waves, and what comes of them. What is chosen has its strips at the right. */
export function SynthBench({ patch, sound, layer }: Props) {
  const own = layerOrSound(layer, sound);
  useRestrike(layer);
  useEffect(() => {
    session.audio.setScope(`layer.${own.id}`);
    return () => session.audio.setScope(null);
  }, [own.id]);
  const [held, setHeld] = useState(60);
  useFrames(() => {
    let lowest = -1;
    for (const key of session.hands.held.keys()) if (lowest < 0 || key < lowest) lowest = key;
    if (lowest >= 0 && lowest !== held) setHeld(lowest);
  });
  return (
    <div className="grid min-h-0 grid-rows-[minmax(0,1fr)_minmax(120px,0.72fr)]">
      <div className="grid min-h-0 grid-cols-3 border-b border-line">
        {SYNTH_SHOWN.slice(0, 3).map((part, n) => (
          <OscillatorPanel key={part.id} patch={patch} sound={sound} layer={layer} part={part} n={n} />
        ))}
      </div>
      <SoundSpectrum layer={own} colour={layer ? colourOf(layer.mark) : 'var(--indigo)'} heldKey={held} />
    </div>
  );
}

/** What is only read when a note begins is heard at once under held notes: they go on with it, without a new strike. */
function useRestrike(layer: Layer | null) {
  const signature =
    layer &&
    Object.entries(layer.params)
      .filter(([id]) => {
        const parameter: Parameter = LAYER_PARAMETERS[id as LayerParameterId];
        return parameter.of && parameter.atStrike;
      })
      .map(([id, value]) => `${id} ${value}`)
      .join();
  const before = useRef({ id: layer?.id, signature });
  const id = layer?.id;
  useEffect(() => {
    const changed = before.current.id === id && before.current.signature !== signature;
    before.current = { id, signature };
    if (changed && id) session.waiting.restrike(id, true);
  }, [id, signature]);
}

function OscillatorPanel({ patch, sound, layer, part, n }: Props & { part: KindPart; n: number }) {
  const dispatch = useAppDispatch();
  const chosen = useAppSelector((state) => state.sounds.kindPart === part.id);
  const value = (name: string) => valueOf(layer, sound, oscillatorId(n, name));
  const row = useWaveRow(sound.waves[n]);
  const isWaves = value('Shape') === WAVES_SHAPE;
  const silent = value('Level') <= LAYER_PARAMETERS.osc1Level.low;
  const [place, setPlace] = useState(0);
  useFrames(() => {
    if (isWaves) {
      const now = Math.round(valueNow(patch, layer, sound, oscillatorId(n, 'Position')) * 3.1) / 310;
      if (Math.abs(now - place) > 1e-4) setPlace(now);
    }
  });
  const put = (to: number, gesture: string) => {
    const id = oscillatorId(n, 'Position');
    const percent = Math.round(to * 1000) / 10;
    if (layer) dispatch(editPatch(patch.id, (old) => setParam(old, layer.id, id, percent), gesture || undefined));
    else
      dispatch(
        editSound(sound.id, (old) => ({ ...old, params: { ...old.params, [id]: percent } }), gesture || undefined),
      );
  };
  const others = OTHERS[n];
  const source = SYNTH_SHOWN[others[value('From')]];
  const bent = [
    value('PhaseMod') > 0 ? 'pushed in phase' : '',
    value('FrequencyMod') > 0 ? 'pushed in frequency' : '',
    value('Ring') > 0 ? 'ringing' : '',
  ].filter(Boolean);
  const sync = value('Sync');
  return (
    <section
      aria-label={part.name}
      className={`flex min-h-0 min-w-0 flex-col border-r border-line p-2 last:border-r-0 ${chosen ? 'bg-ink/5' : ''}`}
    >
      <button
        className="flex items-baseline gap-1.5 text-left"
        aria-pressed={chosen}
        onClick={() => dispatch(soundsSlice.actions.kindPartShown(part.id))}
      >
        <span aria-hidden style={{ color: part.colour }}>
          {part.glyph}
        </span>
        <span className={`font-bold ${chosen ? 'underline' : ''}`}>{part.name}</span>
        <span className="min-w-0 flex-1 truncate text-[12px] text-faint">
          {isWaves
            ? (TABLES.find(({ id }) => id === sound.waves[n].table)?.label ?? 'brought in')
            : OSCILLATOR_SHAPES[value('Shape')]}
          {silent ? ', not heard itself' : ''}
        </span>
      </button>
      {isWaves ? (
        <WaveChart
          row={row}
          place={place}
          rest={value('Position') / 100}
          name={`waves of ${part.name}`}
          onPlace={put}
          onEnd={() => dispatch(rigSlice.actions.gestureEnded())}
        />
      ) : (
        <div className="min-h-0 flex-1" />
      )}
      <Cycle patch={patch} sound={sound} layer={layer} n={n} colour={part.colour} tall={!isWaves} />
      <p className="h-4 truncate text-[12px] text-faint">
        {bent.length > 0 ? (
          <>
            {bent.join(', ')} by <span style={{ color: source.colour }}>{source.glyph}</span> {source.name}
          </>
        ) : sync > 0 ? (
          <>begins anew with {SYNTH_SHOWN[others[sync - 1]].name}</>
        ) : (
          ' '
        )}
      </p>
    </section>
  );
}

const CYCLES = 256;
/** Two cycles of an oscillator as it plays now, by the code that plays it. */
function Cycle({ patch, sound, layer, n, colour, tall }: Props & { n: number; colour: string; tall: boolean }) {
  const path = useRef<SVGPathElement>(null);
  const height = tall ? 150 : 54;
  const at = useRef(0);
  useFrames((now) => {
    if (now - at.current < 90) return;
    at.current = now;
    const pictures = picturesOf(patch, sound, layer);
    const picture = pictures?.[n];
    let most = 1;
    if (picture) for (const y of picture) most = Math.max(most, Math.abs(y));
    write(
      path.current,
      'd',
      picture
        ? Array.from(
            picture,
            (y, i) =>
              `${i === 0 ? 'M' : 'L'}${((240 * i) / (CYCLES - 1)).toFixed(1)} ${(height / 2 - (y / most) * (height / 2 - 4)).toFixed(1)}`,
          ).join('')
        : '',
    );
  });
  return (
    <svg
      viewBox={`0 0 240 ${height}`}
      className={`w-full shrink-0 ${tall ? 'max-h-[70%]' : ''}`}
      role="img"
      aria-label={`two cycles of oscillator ${n + 1} as it plays`}
    >
      <line x1={0} x2={240} y1={height / 2} y2={height / 2} stroke="var(--line)" />
      <path ref={path} fill="none" stroke={colour} strokeWidth={1.8} />
    </svg>
  );
}

/** The pictures of all three, worked out once for every few frames. */
let last: { key: string; pictures: Float32Array[] | null } = { key: '', pictures: null };
function picturesOf(patch: Patch, sound: Sound, layer: Layer | null): Float32Array[] | null {
  const value = (id: LayerParameterId) => valueNow(patch, layer, sound, id);
  const ids = (Object.keys(LAYER_PARAMETERS) as LayerParameterId[]).filter((id) => id.startsWith('osc'));
  const key = `${sound.id} ${sound.waves.map(({ table }) => table).join()} ${ids.map((id) => value(id).toPrecision(3)).join()}`;
  if (key !== last.key || !last.pictures)
    last = {
      key,
      pictures: oscillatorPicture(
        (id) =>
          /(Level|Unison|Free)$/.test(id) ? (id.endsWith('Unison') ? 1 : id.endsWith('Free') ? 0 : -6) : value(id),
        sound.waves.map((waves) => wavesKey(waves)),
        (wanted) => session.wavesOf(wanted),
      ),
    };
  return last.pictures;
}

/** The waves of one oscillator: ours by name, or a recording. */
/** Whether an oscillator's row has room beside all others of the patch. */
function useHasRoom(patch: Patch, sound: Sound, n: number): boolean {
  const { sounds, samples } = useAppSelector((state) => state.rig.rig!);
  return useMemo(() => {
    const rows = rowsOfPatch(patch, sounds).map(({ row }) => row);
    const { table, length } = sound.waves[n];
    return !rowsWithoutRoom(rows, (id) => samples.find((sample) => sample.id === id)?.frames ?? 0).some(
      (row) => row.table === table && row.length === length,
    );
  }, [patch, sound, n, sounds, samples]);
}

export function WavesField({ patch, sound, n }: { patch: Patch; sound: Sound; n: number }) {
  const dispatch = useAppDispatch();
  const samples = useAppSelector((state) => state.rig.rig!.samples);
  const { table, length } = sound.waves[n];
  const hasRoom = useHasRoom(patch, sound, n);
  const isOurs = TABLES.some(({ id }) => id === table);
  return (
    <>
      <select
        className="field"
        aria-label={`waves of oscillator ${n + 1}`}
        value={table}
        onChange={(event) =>
          dispatch(editSound(sound.id, (old) => setWaves(old, n, { table: event.target.value, length: 0 })))
        }
      >
        <optgroup label="comes with Wavicle">
          {TABLES.map(({ id, label }) => (
            <option key={id} value={id}>
              {label}
            </option>
          ))}
        </optgroup>
        {samples.length > 0 && (
          <optgroup label="recordings of this rig, read as waves">
            {samples.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </optgroup>
        )}
      </select>
      <p className="text-[12px] text-faint">
        {TABLES.find(({ id }) => id === table)?.help ?? 'A recording, cut into waves.'}
      </p>
      {!hasRoom && (
        <p role="alert" className="text-[12px] text-alarm">
          There is no room for this row beside the others of this patch: a plain saw plays. Choose one that another
          oscillator has, or take one away.
        </p>
      )}
      {!isOurs && (
        <label className="flex items-center gap-2 text-[12px]">
          frames in a wave
          <select
            className="field ml-auto"
            value={length}
            onChange={(event) =>
              dispatch(editSound(sound.id, (old) => setWaves(old, n, { table, length: Number(event.target.value) })))
            }
          >
            <option value={0}>found by its length</option>
            {[256, 512, 600, 1024, 2048, 4096].map((frames) => (
              <option key={frames} value={frames}>
                {frames}
              </option>
            ))}
          </select>
        </label>
      )}
    </>
  );
}
