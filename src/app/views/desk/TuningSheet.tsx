import { useRef, useState } from 'react';
import { nameOfClass } from '../../../core/music/chords';
import { nameOfKey } from '../../../core/music/noteNames';
import { frequencyOfKey } from '../../../core/music/pitch';
import { A4_HZ, beatsOf, centsOfTuning, EQUAL, TEMPERAMENTS, type Tuning } from '../../../core/music/tunings';
import {
  ownScale,
  a4Of,
  setConcertPitch,
  setPatchPitch,
  setStays,
  setTuning,
  tuningOf,
  withMapping,
  type TuningPlace,
} from '../../../core/rig/edits/tuning';
import type { Patch, Rig } from '../../../core/rig/schema';
import { edit, useAppDispatch, useAppSelector } from '../../document/store';
import { download, working } from '../../jobs/working';
import { NumberField } from '../../parts/NumberField';
import { SheetFrame } from '../../parts/Sheet';
import { ConcertPitch } from './ConcertPitch';

/** How everything is tuned: concert pitch, and the tuning of the rig, of a patch, of a layer. */
export function TuningSheet({ rig, patch }: { rig: Rig; patch: Patch }) {
  const dispatch = useAppDispatch();
  const layerId = useAppSelector((state) => state.choosing.selectedLayerId);
  const layer = patch.layers.find(({ id }) => id === layerId) ?? patch.layers[0];
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const heard = tuningOf(rig, patch, layer);
  return (
    <SheetFrame title="Tuning" wide>
      <fieldset disabled={readOnly} className="min-w-0">
        <div className="mb-3 flex items-center gap-2">
          <span className="flex-1">Concert pitch of this rig</span>
          <ConcertPitch a4={rig.pitch.a4} onChange={(a4) => dispatch(edit((old) => setConcertPitch(old, a4)))} />
        </div>
        <Place title="The rig" place={{ of: 'rig' }} own={rig.pitch.tuning} above={null} />
        <Place
          title={`“${patch.name}”`}
          place={{ of: 'patch', patchId: patch.id }}
          own={patch.tuning}
          above="as the rig"
        />
        <div className="mb-2 flex items-center gap-2">
          <label className="flex flex-1 items-center gap-1.5">
            <input
              type="checkbox"
              checked={patch.a4 !== null}
              onChange={(event) => {
                const to = event.target.checked ? rig.pitch.a4 : null;
                dispatch(edit((old) => setPatchPitch(old, patch.id, to)));
              }}
            />
            <span dir="auto" className="min-w-0 truncate">
              “{patch.name}” has a concert pitch of its own
            </span>
          </label>
          {patch.a4 !== null && (
            <ConcertPitch a4={patch.a4} onChange={(a4) => dispatch(edit((old) => setPatchPitch(old, patch.id, a4)))} />
          )}
        </div>
        {layer && (
          <>
            <Place
              title={`Layer “${layer.name}”`}
              place={{ of: 'layer', patchId: patch.id, layerId: layer.id }}
              own={layer.tuning}
              above="as the patch"
              disabled={layer.staysEqual}
            />
            <label className="mb-3 flex items-center gap-2">
              <input
                type="checkbox"
                checked={layer.staysEqual}
                onChange={(event) => dispatch(edit((old) => setStays(old, patch.id, layer.id, event.target.checked)))}
              />
              “{layer.name}” stays as it was recorded, as drums do
            </label>
          </>
        )}
      </fieldset>
      <CentsPicture tuning={heard ?? EQUAL} />
      <Beats tuning={heard ?? EQUAL} a4={heard ? a4Of(rig, patch) : 440} />
    </SheetFrame>
  );
}

interface PlaceProps {
  title: string;
  place: TuningPlace;
  own: Tuning | null;
  /** What it is where it says nothing itself; null: it always does. */
  above: string | null;
  disabled?: boolean;
}

function Place({ title, place, own, above, disabled = false }: PlaceProps) {
  const dispatch = useAppDispatch();
  const put = (tuning: Tuning | null) => dispatch(edit((rig) => setTuning(rig, place, tuning)));
  return (
    <fieldset className="mb-2 border-t border-line pt-2" disabled={disabled}>
      <div className="flex flex-wrap items-center gap-1.5">
        <span dir="auto" className="w-32 truncate font-bold">
          {title}
        </span>
        <select
          className="field min-w-0 flex-1"
          aria-label={`Tuning of ${title}`}
          value={own ? own.scale : ''}
          onChange={({ target: { value } }) => {
            if (value === '') put(null);
            else if (value !== 'own') put({ ...(own ?? EQUAL), scale: value });
          }}
        >
          {above && <option value="">{above}</option>}
          {TEMPERAMENTS.map(({ id, label }) => (
            <option key={id} value={id}>
              {label}
            </option>
          ))}
          {own && own.degrees.length > 0 && <option value="own">{own.name || 'a scale of one’s own'}</option>}
        </select>
        <ScalaFiles own={own} title={title} put={put} />
      </div>
      {own && (
        <div className="mt-1.5 flex flex-wrap items-center gap-1.5">
          {own.scale !== 'own' && own.scale !== 'equal' && <Root own={own} title={title} put={put} />}
          {own.scale === 'own' && (
            <span className="text-[12px] text-faint">
              {own.degrees.length} degrees{own.mapping ? ', with a mapping' : ''}
            </span>
          )}
          <span className="w-40">
            <NumberField
              label="octaves stretched"
              value={own.stretch}
              low={0}
              high={200}
              unit=" %"
              onChange={(stretch) => put({ ...own, stretch })}
            />
          </span>
          {own.scale !== 'own' && (
            <span className="min-w-0 flex-1 text-[12px] text-faint">
              {TEMPERAMENTS.find(({ id }) => id === own.scale)?.help}
            </span>
          )}
        </div>
      )}
    </fieldset>
  );
}

interface Putting {
  own: Tuning;
  title: string;
  put: (tuning: Tuning) => void;
}

const Root = ({ own, title, put }: Putting) => (
  <select
    className="field"
    aria-label={`Root of the tuning of ${title}`}
    value={own.root}
    onChange={(event) => put({ ...own, root: Number(event.target.value) })}
  >
    {Array.from({ length: 12 }, (_, root) => (
      <option key={root} value={root}>
        on {nameOfClass(root)}
      </option>
    ))}
  </select>
);

/** Scales and mappings as files of the Scala archive, in and out. */
function ScalaFiles({ own, title, put }: { own: Tuning | null; title: string; put: (tuning: Tuning) => void }) {
  const chooser = useRef<HTMLInputElement>(null);
  const read = (file: File) =>
    void working(`Reading “${file.name}”`, async () => {
      const { readKbm, readScl } = await import('../../../core/formats/scala');
      const text = await file.text();
      if (/\.kbm$/i.test(file.name)) {
        if (own?.scale !== 'own') throw new Error('a mapping belongs to a scale: open its .scl file first');
        put(withMapping(own, readKbm(text)));
      } else put(ownScale(readScl(text), own ?? EQUAL));
    });
  return (
    <>
      <button className="button px-2! py-0! text-[12px]" onClick={() => chooser.current?.click()}>
        open .scl or .kbm …
      </button>
      <input
        ref={chooser}
        type="file"
        accept=".scl,.kbm"
        className="hidden"
        tabIndex={-1}
        aria-label={`Scala file for ${title}`}
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = '';
          if (file) read(file);
        }}
      />
      {own && (
        <button
          className="button px-2! py-0! text-[12px]"
          onClick={() =>
            void import('../../../core/formats/scala').then(({ writeKbm, writeScl }) => {
              const known = TEMPERAMENTS.find(({ id }) => id === own.scale);
              const description = known?.label ?? own.name;
              const degrees = [...(known?.degrees ?? own.degrees)];
              download(new TextEncoder().encode(writeScl({ description, degrees })), 'scale.scl', 'text/plain');
              if (own.scale === 'own' && own.mapping)
                download(new TextEncoder().encode(writeKbm(own.mapping)), 'scale.kbm', 'text/plain');
            })
          }
        >
          as .scl
        </button>
      )}
    </>
  );
}

const WIDTH = 480,
  HEIGHT = 110,
  LOWEST = 21,
  HIGHEST = 108;

/** Cents of each key of a piano from equal semitones around the same A, as lines from the middle. */
function CentsPicture({ tuning }: { tuning: Tuning }) {
  const cents = [...centsOfTuning(tuning, A4_HZ)].slice(LOWEST, HIGHEST + 1);
  const most = Math.max(25, ...cents.map((x) => (Number.isNaN(x) ? 0 : Math.abs(x))));
  const y = (value: number) => HEIGHT / 2 - (value / most) * (HEIGHT / 2 - 8);
  const x = (i: number) => ((i + 0.5) * WIDTH) / cents.length;
  return (
    <figure className="mb-2">
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="w-full rounded border border-line bg-paper"
        role="img"
        aria-label={`Cents of each key from equal semitones: from ${Math.round(Math.min(...cents.filter((c) => !Number.isNaN(c))))} to ${Math.round(Math.max(...cents.filter((c) => !Number.isNaN(c))))}`}
      >
        <line x1={0} x2={WIDTH} y1={HEIGHT / 2} y2={HEIGHT / 2} stroke="var(--line)" />
        {cents.map((value, i) =>
          Number.isNaN(value) ? null : (
            <g key={i}>
              <line x1={x(i)} x2={x(i)} y1={HEIGHT / 2} y2={y(value)} stroke="var(--teal)" strokeWidth={1.4} />
              <circle cx={x(i)} cy={y(value)} r={1.8} fill="var(--teal)" />
              {(i + LOWEST) % 12 === 0 && (
                <text x={x(i)} y={HEIGHT - 2} fontSize={9} textAnchor="middle" fill="var(--faint)">
                  {nameOfKey(i + LOWEST)}
                </text>
              )}
            </g>
          ),
        )}
        <text x={3} y={10} fontSize={9} fill="var(--faint)">
          +{Math.round(most)} cents
        </text>
        <text x={3} y={HEIGHT - 16} fontSize={9} fill="var(--faint)">
          −{Math.round(most)}
        </text>
      </svg>
      <figcaption className="text-[12px] text-faint">
        Each key from A0 to C8, away from equal semitones around the same A.
      </figcaption>
    </figure>
  );
}

/** Intervals whose partials nearly meet: semitones, and which partial of the lower meets which of the upper. */
const INTERVALS = [
  ['fifths', 7, 3, 2],
  ['fourths', 5, 4, 3],
  ['major thirds', 4, 5, 4],
  ['minor thirds', 3, 6, 5],
  ['octaves', 12, 2, 1],
] as const;

/** How often a second the intervals of an octave beat. */
function Beats({ tuning, a4 }: { tuning: Tuning; a4: number }) {
  const [which, setWhich] = useState(0);
  const middleC = useAppSelector((state) => state.settings.middleC);
  const [, semitones, a, b] = INTERVALS[which];
  const cents = centsOfTuning(tuning, a4);
  const hz = (key: number) => frequencyOfKey(key + cents[key] / 100);
  return (
    <div>
      <label className="mb-1 flex items-center gap-2 text-[12.5px]">
        Beats a second of
        <select className="field" value={which} onChange={(event) => setWhich(Number(event.target.value))}>
          {INTERVALS.map(([name], i) => (
            <option key={name} value={i}>
              {name}
            </option>
          ))}
        </select>
      </label>
      <ol className="number grid grid-cols-6 gap-x-2 text-[12px]">
        {Array.from({ length: 12 }, (_, i) => {
          const beats = beatsOf(hz(57 + i), hz(57 + i + semitones), a, b);
          return (
            <li key={i}>
              <span className="text-faint">{nameOfKey(57 + i, middleC)}</span>{' '}
              {Number.isNaN(beats) ? '–' : beats < 0.05 ? 'pure' : beats.toFixed(1)}
            </li>
          );
        })}
      </ol>
    </div>
  );
}
