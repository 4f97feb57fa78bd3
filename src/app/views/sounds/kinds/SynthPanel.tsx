import { keepInSound } from '../../../../core/rig/edits/layers';
import { allBut, SYNTH_PARTS, type SynthPart } from '../../../../core/rig/edits/kinds';
import type { LayerParameterId } from '../../../../core/rig/parameters';
import type { Layer, Patch, Sound } from '../../../../core/rig/schema';
import { PULSE, WAVES_SHAPE } from '../../../../core/sounds/synth/parameters';
import { labelOfTarget } from '../../../../core/rig/moves';
import { sourceName } from '../../../parts/moved';
import { Part } from '../../../parts/Part';
import { session } from '../../../sound/session';
import { editSound, notice, useAppDispatch, useAppSelector } from '../../../document/store';
import { listeningSlice } from '../../../listening/listeningSlice';
import { soundsSlice } from '../soundsSlice';
import { KindStrip } from './KindStrip';
import { oscillatorId, SYNTH_SHOWN } from './partsOf';
import { valueOf } from './soundLayer';
import { WavesField } from './SynthBench';

interface Props {
  patch: Patch;
  sound: Sound;
  layer: Layer | null;
}

const NAMES: Record<string, string> = {
  Position: 'where in the row',
  Width: 'pulse width',
  Octave: 'octave',
  Semitones: 'semitones',
  Cents: 'cents',
  Level: 'level',
  Pan: 'pan',
  Phase: 'phase',
  Free: 'begins',
  Unison: 'voices',
  Detune: 'detune',
  Spread: 'spread',
  From: 'by',
  PhaseMod: 'phase',
  FrequencyMod: 'frequency',
  Ring: 'ring',
  Sync: 'begins anew with',
  Path: 'goes',
};

/** The strips of the part of a synth that is chosen. */
export function SynthPanel({ patch, sound, layer }: Props) {
  const part = useAppSelector((state) => state.sounds.kindPart);
  const shown = SYNTH_SHOWN.find(({ id }) => id === part) ?? SYNTH_SHOWN[0];
  const strip = (id: LayerParameterId, label?: string) => (
    <KindStrip key={id} patch={patch} layer={layer} sound={sound} id={id} label={label} colour={shown.colour} />
  );
  const n = Number(shown.id.slice(3)) - 1;
  const osc = (name: string) => strip(oscillatorId(n, name), NAMES[name]);
  const shape = shown.id.startsWith('osc') ? valueOf(layer, sound, oscillatorId(n, 'Shape')) : -1;
  return (
    <>
      <h2 className="flex items-baseline gap-2 text-[15px] font-bold">
        <span aria-hidden style={{ color: shown.colour }}>
          {shown.glyph}
        </span>
        {shown.name}
      </h2>
      {shown.id.startsWith('osc') && (
        <>
          <Part title="Plays">
            {strip(oscillatorId(n, 'Shape'), 'wave')}
            {shape === WAVES_SHAPE && (
              <>
                <WavesField patch={patch} sound={sound} n={n} />
                {osc('Position')}
              </>
            )}
            {shape === PULSE && osc('Width')}
            {osc('Level')}
            {osc('Pan')}
          </Part>
          <Part title="Pitch">
            {osc('Octave')}
            {osc('Semitones')}
            {osc('Cents')}
          </Part>
          <Part title="Bent by another">
            {osc('From')}
            {osc('PhaseMod')}
            {osc('FrequencyMod')}
            {osc('Ring')}
            {osc('Sync')}
          </Part>
          <Part title="Several at once">
            {osc('Unison')}
            {osc('Detune')}
            {osc('Spread')}
          </Part>
          <Part title="Begins, and goes">
            {osc('Phase')}
            {osc('Free')}
            {osc('Path')}
          </Part>
        </>
      )}
      {shown.id === 'sub' && (
        <Part title="Sub">
          {strip('subLevel', 'level')}
          {strip('subShape', 'wave')}
          {strip('subOctave', 'below')}
          {strip('subPath', 'goes')}
        </Part>
      )}
      {shown.id === 'noise' && (
        <Part title="Noise">
          {strip('noiseLevel', 'level')}
          {strip('noiseColour', 'colour')}
          {strip('noisePath', 'goes')}
        </Part>
      )}
      {shown.id === 'filter1' && (
        <Part title="First filter">
          {strip('filterKind', 'lets through')}
          {strip('cutoff')}
          {strip('resonance')}
          {strip('keyTrack', 'follows keys')}
          {strip('velocityTrack', 'follows velocity')}
          {strip('envelopeToCutoff', 'follows envelope')}
        </Part>
      )}
      {shown.id === 'filter2' && (
        <Part title="Second filter">
          {strip('filter2Kind', 'lets through')}
          {strip('cutoff2', 'cutoff')}
          {strip('resonance2', 'resonance')}
          {strip('keyTrack2', 'follows keys')}
          {strip('velocityTrack2', 'follows velocity')}
          {strip('envelopeToCutoff2', 'follows envelope')}
        </Part>
      )}
      {shown.id.startsWith('filter') && (
        <Part title="Between and after">
          {strip('filterPaths', 'arranged')}
          {strip('drive')}
          {strip('combDamping')}
          {strip('lowCut')}
          {strip('tilt')}
        </Part>
      )}
      <KeepInSound sound={sound} layer={layer} />
    </>
  );
}

/** A layer's values become what the sound brings with it, for layers to come. */
export function KeepInSound({ sound, layer }: { sound: Sound; layer: Layer | null }) {
  const dispatch = useAppDispatch();
  if (!layer)
    return (
      <p className="text-[12px] text-faint">
        No layer of this patch plays it: these are the values that it brings with it.
      </p>
    );
  return (
    <button
      className="button justify-center"
      title="Layers that take this sound up from now on begin with these values"
      onClick={() => {
        dispatch(editSound(sound.id, (old) => keepInSound(old, layer)));
        dispatch(notice('info', `“${sound.name}” brings these values with it from now on.`, 'kept-in-sound'));
      }}
    >
      Keep these values in the sound
    </button>
  );
}

/** The parts of a synth, each to be heard alone or left out while it plays. */
export function SynthParts({ patch, sound, layer }: Props) {
  const dispatch = useAppDispatch();
  const part = useAppSelector((state) => state.sounds.kindPart);
  const leftOut = useAppSelector((state) => state.listening.leftOut);
  const own = layer?.id ?? 'alone';
  const idOf = (id: string) => `layer.${own}.${id}`;
  const put = (parts: string[]) => {
    dispatch(listeningSlice.actions.leftOutSet(parts));
    if (layer && [...parts, ...leftOut].some((each) => /filter[12]$/.test(each))) session.waiting.restrike(layer.id);
  };
  const routes = patch.routes.filter((route) => layer && route.target.startsWith(`layer.${layer.id}.`));
  const movers = patch.movers;
  const alone = (id: string) => {
    const others = allBut(own, id as SynthPart);
    return others.every((each) => leftOut.includes(each)) && !leftOut.includes(idOf(id));
  };
  const says = (id: string): string => {
    if (id.startsWith('osc')) {
      const n = Number(id.slice(3)) - 1;
      const bends = [1, 2, 3].filter(
        (m) =>
          m !== n + 1 &&
          ['PhaseMod', 'FrequencyMod', 'Ring'].some((name) => valueOf(layer, sound, oscillatorId(m - 1, name)) > 0) &&
          [
            [1, 2],
            [0, 2],
            [0, 1],
          ][m - 1][valueOf(layer, sound, oscillatorId(m - 1, 'From'))] === n,
      );
      return bends.length > 0 ? `bends ${bends.join(' and ')}` : '';
    }
    return '';
  };
  return (
    <section aria-label="Take it apart" className="flex min-h-0 flex-col gap-1 overflow-y-auto [scrollbar-width:thin]">
      <div className="flex items-center justify-between">
        <h2 className="heading">Parts of this sound</h2>
        {leftOut.length > 0 && (
          <button className="button px-2! py-0! text-[12px]" onClick={() => put([])}>
            hear all
          </button>
        )}
      </div>
      <ul>
        {SYNTH_SHOWN.map(({ id, glyph, colour, name }) => {
          const isPart = (SYNTH_PARTS as readonly string[]).includes(id);
          const out = leftOut.includes(idOf(id));
          return (
            <li key={id} className={`flex items-center gap-1 rounded-md pl-1.5 ${part === id ? 'bg-ink/8' : ''}`}>
              <button
                className="flex min-w-0 flex-1 items-baseline gap-1.5 py-0.5 text-left"
                aria-pressed={part === id}
                onClick={() => dispatch(soundsSlice.actions.kindPartShown(id))}
              >
                <span aria-hidden className="w-3 text-center" style={{ color: colour }}>
                  {glyph}
                </span>
                <span className={out ? 'line-through' : ''}>{name}</span>
                <span className="min-w-0 flex-1 truncate text-right text-[11.5px] text-faint">{says(id)}</span>
              </button>
              {isPart && !id.startsWith('filter') && (
                <button
                  className="button px-1! py-0! text-[11px]"
                  aria-pressed={alone(id)}
                  aria-label={`Hear only ${name}`}
                  title="Hear only this"
                  onClick={() => put(alone(id) ? [] : allBut(own, id as SynthPart))}
                >
                  only
                </button>
              )}
              <button
                className="button px-1! py-0! text-[11px]"
                aria-pressed={out}
                aria-label={`Leave ${name} out`}
                title="Leave it out"
                onClick={() => put(out ? leftOut.filter((each) => each !== idOf(id)) : [...leftOut, idOf(id)])}
              >
                out
              </button>
            </li>
          );
        })}
      </ul>
      {movers.length + routes.length > 0 && (
        <details open={leftOut.some((each) => !each.startsWith('layer.')) || undefined}>
          <summary className="heading cursor-pointer">What moves it: {movers.length + routes.length}</summary>
          <ul className="text-[12px]">
            {movers.map(({ kind, number, name }) => {
              const id = `${kind}.${number}`;
              const out = leftOut.includes(id);
              return (
                <li key={id} className="flex items-center gap-1 pl-1.5">
                  <span dir="auto" className={`min-w-0 flex-1 truncate ${out ? 'line-through' : ''}`}>
                    {name || id}
                  </span>
                  <button
                    className="button px-1! py-0! text-[11px]"
                    aria-pressed={out}
                    aria-label={`Leave ${name || id} out`}
                    onClick={() => put(out ? leftOut.filter((each) => each !== id) : [...leftOut, id])}
                  >
                    out
                  </button>
                </li>
              );
            })}
            {routes.map((route) => {
              const id = `route.${route.id}`;
              const out = leftOut.includes(id);
              const what = `${sourceName(patch, route)} → ${labelOfTarget(patch, route.target).replace(/ of [^→]*$/, '')}`;
              return (
                <li key={id} className="flex items-center gap-1 pl-1.5">
                  <span className={`min-w-0 flex-1 truncate ${out ? 'line-through' : ''}`} title={what}>
                    {what}
                  </span>
                  <button
                    className="button px-1! py-0! text-[11px]"
                    aria-pressed={out}
                    aria-label={`Leave ${what} out`}
                    onClick={() => put(out ? leftOut.filter((each) => each !== id) : [...leftOut, id])}
                  >
                    out
                  </button>
                </li>
              );
            })}
          </ul>
        </details>
      )}
    </section>
  );
}
