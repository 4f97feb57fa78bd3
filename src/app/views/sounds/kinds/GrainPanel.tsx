import { useState } from 'react';
import {
  putOnSurface,
  spreadOverSurface,
  SURFACE_PARTS,
  surfaceRoutes,
  takeOffSurface,
  type SurfacePart,
  type SurfaceSetup,
} from '../../../../core/rig/edits/kinds';
import { nameOfKey, parseKey } from '../../../../core/music/noteNames';
import type { Layer, Patch, Sound } from '../../../../core/rig/schema';
import { Part } from '../../../parts/Part';
import { TypedField } from '../../../parts/TypedField';
import { editPatch, useAppDispatch, useAppSelector } from '../../../document/store';
import { KindStrip } from './KindStrip';
import { GRAIN_PARTS, isCounted } from './GrainBench';
import { KeepInSound } from './SynthPanel';

interface Props {
  patch: Patch;
  sound: Sound;
  layer: Layer | null;
}

/** The strips of grains. */
export function GrainPanel({ patch, sound, layer }: Props) {
  return (
    <>
      <h2 className="text-[15px] font-bold">
        {sound.name} <span className="text-[12px] font-normal text-faint">in grains</span>
      </h2>
      {GRAIN_PARTS.map(([title, ids]) => (
        <Part key={title} title={title}>
          {ids
            .filter(([id]) => (id !== 'grainDensity' && id !== 'grainOverlap') || isCounted(layer, sound, id))
            .map(([id, label]) => (
              <KindStrip
                key={id}
                patch={patch}
                layer={layer}
                sound={sound}
                id={id}
                label={label}
                colour="var(--teal)"
              />
            ))}
        </Part>
      ))}
      <KeepInSound sound={sound} layer={layer} />
    </>
  );
}

const SAYS: Readonly<Record<SurfacePart, readonly [string, string]>> = {
  keys: ['keys', 'where in the sample'],
  density: ['force', 'how many grains'],
  length: ['slide', 'how long they are'],
  scatter: ['force', 'how far they scatter'],
  pitch: ['slide', 'how far in pitch'],
};

/**
 * What the hands do to grains: the keys of the controller span the sample, force and slide are spread over the rest, in
 * one action; each part can be taken off.
 */
export function Surface({ patch, layer }: { patch: Patch; layer: Layer }) {
  const dispatch = useAppDispatch();
  const { keyLow, keyHigh } = useAppSelector((state) => state.rig.rig!.controllers);
  const middleC = useAppSelector((state) => state.settings.middleC);
  const [typed, setTyped] = useState<{ low: number | null; high: number | null }>({ low: null, high: null });
  const onNow = SURFACE_PARTS.flatMap((part) => surfaceRoutes(patch, layer.id, part)).find(
    (route) => route.source === 'pressure' || route.source === 'velocity',
  )?.source;
  const [wanted, setForce] = useState<SurfaceSetup['force']>('pressure');
  const force = onNow === 'velocity' || onNow === 'pressure' ? onNow : wanted;
  const setup: SurfaceSetup = { ...typed, force };
  const change = (edit: (old: Patch) => Patch) => dispatch(editPatch(patch.id, edit));
  const isOn = (part: SurfacePart) => surfaceRoutes(patch, layer.id, part).length > 0;
  const key = (which: 'low' | 'high') => (
    <TypedField
      label={which === 'low' ? 'lowest key' : 'highest key'}
      text={nameOfKey(typed[which] ?? (which === 'low' ? keyLow : keyHigh), middleC)}
      commit={(text) => {
        const read = parseKey(text, middleC);
        if (read === undefined) return 'a key such as C2, or its number';
        const other = which === 'low' ? (typed.high ?? keyHigh) : (typed.low ?? keyLow);
        if (which === 'low' ? read >= other : read <= other) return 'the lowest key lies below the highest';
        const next = { ...typed, [which]: read };
        setTyped(next);
        if (isOn('keys')) change((old) => putOnSurface(old, layer.id, 'keys', { ...next, force }));
        return undefined;
      }}
    />
  );
  return (
    <section aria-label="The hands, as learned" className="flex flex-col gap-1.5">
      <h2 className="heading">The hands, as learned</h2>
      <div className="grid grid-cols-2 gap-1.5">
        {key('low')}
        {key('high')}
      </div>
      <label className="flex items-center gap-2 text-[12px]">
        force is
        <select
          className="field ml-auto"
          value={force}
          onChange={(event) => {
            const next = event.target.value as SurfaceSetup['force'];
            setForce(next);
            change((old) =>
              (['density', 'scatter'] as const).reduce(
                (left, part) => (isOn(part) ? putOnSurface(left, layer.id, part, { ...setup, force: next }) : left),
                old,
              ),
            );
          }}
        >
          <option value="pressure">pressure, all the time</option>
          <option value="velocity">force of the strike</option>
        </select>
      </label>
      <ul className="text-[12px]">
        {SURFACE_PARTS.map((part) => (
          <li key={part} className="flex items-center gap-2">
            <label className="flex min-w-0 flex-1 items-center gap-1.5">
              <input
                type="checkbox"
                checked={isOn(part)}
                onChange={(event) => {
                  const { checked } = event.target;
                  change((old) =>
                    checked ? putOnSurface(old, layer.id, part, setup) : takeOffSurface(old, layer.id, part),
                  );
                }}
              />
              <span>{SAYS[part][0]}</span>
              <span className="ml-auto text-faint">{SAYS[part][1]}</span>
            </label>
          </li>
        ))}
      </ul>
      <button
        className="button justify-center"
        title="The keys span the sample, force and slide are spread over the grains"
        onClick={() => change((old) => spreadOverSurface(old, layer.id, setup))}
      >
        Spread over the surface
      </button>
    </section>
  );
}
