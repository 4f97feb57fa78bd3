import { nameOfChord, nameOfClass, spelledKeys } from '../../../../core/music/chords';
import { nameOfKey } from '../../../../core/music/noteNames';
import { OUTSIDE, SCALES, type Outside } from '../../../../core/music/scales';
import { chordOfKey } from '../../../../core/engine/notes/chordOfKey';
import { resolveStrikes } from '../../../../core/engine/offline/resolve';
import { METER } from '../../../../host/protocol';
import { paramOf, windowOn } from '../../../../core/rig/defaults';
import { updatePatch } from '../../../../core/rig/edits/layers';
import { addInstrument, setInstrument } from '../../../../core/rig/edits/outside';
import { changePath } from '../../../../core/rig/edits/paths';
import type { Layer, NotePath, Patch } from '../../../../core/rig/schema';
import { NumberField } from '../../../parts/NumberField';
import { Part, Row } from '../../../parts/Part';
import { useRefresh } from '../../../parts/useLive';
import { useTick } from '../../../parts/useTick';
import { TypedField } from '../../../parts/TypedField';
import { session } from '../../../sound/session';
import { deskSlice } from '../../../hands/deskSlice';
import { edit, editPatch, useAppDispatch, useAppSelector } from '../../../document/store';
import type { StripOf } from './strips';
import { MOST_ADDED, MOST_LIMIT } from '../../../../core/rig/limits';

/** Stands in the list for an instrument that is not there yet. */
const NEW = '+';
const OUTSIDE_WORDS: Record<Outside, string> = {
  nearest: 'go to the nearest',
  up: 'go up',
  down: 'go down',
  silent: 'stay silent',
};

/** Between key and sound: what ranges mean, scale, chord, how many voices, and where the notes go. */
export function NotesTab({ patch, layer, strip }: { patch: Patch; layer: Layer; strip: StripOf }) {
  const dispatch = useAppDispatch();
  const middleC = useAppSelector((state) => state.settings.middleC);
  const { path } = layer;
  const change = (edit: (old: NotePath) => NotePath) =>
    dispatch(editPatch(patch.id, (old) => changePath(old, layer.id, edit)));
  const instruments = useAppSelector((state) => state.rig.rig!.instruments);
  useRefresh(session.outputs);
  const addOutside = () => {
    dispatch(
      edit((rig) => {
        const made = addInstrument(rig, 'Outside', session.outputs.likeliest);
        return made ? updatePatch(made.rig, patch.id, (old) => setInstrument(old, layer.id, made.id)) : rig;
      }),
    );
    dispatch(deskSlice.actions.sheetOpened('outside'));
  };
  const { scale, chord } = path;
  const keys = windowOn(layer, 'key')!;
  const shift = path.ranges === 'made' ? -layer.transpose : 0;
  const name = (key: number) => nameOfKey(Math.min(127, Math.max(0, key)), middleC);
  return (
    <>
      <Part title="Ranges">
        <select
          className="field w-full"
          aria-label="Key windows are meant"
          value={path.ranges}
          onChange={(event) => change((old) => ({ ...old, ranges: event.target.value as NotePath['ranges'] }))}
        >
          <option value="played">key windows: before transposition</option>
          <option value="made">key windows: after transposition</option>
        </select>
        <p className="text-[12px] text-faint">
          You play {name(keys.low + shift)} … {name(keys.high + shift)}, it sounds at{' '}
          {name(keys.low + shift + layer.transpose)} … {name(keys.high + shift + layer.transpose)}.
        </p>
      </Part>
      <Part
        title="Scale"
        action={
          <Switch
            on={scale.on}
            label="Scale"
            onChange={(on) => change((old) => ({ ...old, scale: { ...old.scale, on } }))}
          />
        }
      >
        {scale.on && (
          <>
            <div className="flex gap-1.5">
              <select
                className="field"
                aria-label="Root"
                value={scale.root}
                onChange={(event) =>
                  change((old) => ({ ...old, scale: { ...old.scale, root: Number(event.target.value) } }))
                }
              >
                {Array.from({ length: 12 }, (_, root) => (
                  <option key={root} value={root}>
                    {nameOfClass(root)}
                  </option>
                ))}
              </select>
              <select
                className="field min-w-0 flex-1"
                aria-label="Scale name"
                value={scale.name}
                onChange={(event) => change((old) => ({ ...old, scale: { ...old.scale, name: event.target.value } }))}
              >
                {SCALES.map(({ id, label }) => (
                  <option key={id} value={id}>
                    {label}
                  </option>
                ))}
              </select>
            </div>
            <p className="text-[12px]">
              {SCALES.find(({ id }) => id === scale.name)!
                .intervals.map((each) => nameOfClass(scale.root + each))
                .join('  ')}
            </p>
            <Row label="other notes">
              <select
                className="field min-w-0 flex-1"
                aria-label="Notes outside the scale"
                value={scale.outside}
                onChange={(event) =>
                  change((old) => ({ ...old, scale: { ...old.scale, outside: event.target.value as Outside } }))
                }
              >
                {OUTSIDE.map((each) => (
                  <option key={each} value={each}>
                    {OUTSIDE_WORDS[each]}
                  </option>
                ))}
              </select>
            </Row>
          </>
        )}
      </Part>
      <Part
        title="Chord"
        action={
          <Switch
            on={chord.on}
            label="Chord"
            onChange={(on) =>
              change((old) => ({
                ...old,
                chord: {
                  ...old.chord,
                  on,
                  notes: on && old.chord.notes.length === 0 ? (old.scale.on ? [2, 4] : [4, 7]) : old.chord.notes,
                  in: on && old.chord.notes.length === 0 && old.scale.on ? 'steps' : old.chord.in,
                },
              }))
            }
          />
        }
      >
        {chord.on && (
          <>
            <Row label="notes are">
              <select
                className="field min-w-0 flex-1"
                aria-label="Harmony"
                value={chord.harmony}
                onChange={(event) =>
                  change((old) => ({
                    ...old,
                    chord: { ...old.chord, harmony: event.target.value as NotePath['chord']['harmony'] },
                  }))
                }
              >
                <option value="written">as written</option>
                <option value="kept">by chance, kept for each key</option>
                <option value="drawn">by chance, anew each time</option>
              </select>
            </Row>
            {chord.harmony === 'written' ? (
              <div className="flex gap-1.5">
                <TypedField
                  label="adds"
                  text={chord.notes.map((each) => (each > 0 ? `+${each}` : String(each).replace('-', '−'))).join(' ')}
                  commit={(typed) => {
                    const notes = typed
                      .replaceAll('−', '-')
                      .split(/[\s,;]+/)
                      .filter(Boolean)
                      .map(Number);
                    if (
                      notes.length === 0 ||
                      notes.length > MOST_ADDED ||
                      notes.some((each) => !Number.isInteger(each) || Math.abs(each) > 24)
                    )
                      return `one to ${MOST_ADDED} whole numbers from −24 to 24, such as 4 7 11`;
                    change((old) => ({ ...old, chord: { ...old.chord, notes } }));
                    return undefined;
                  }}
                />
                <select
                  className="field"
                  aria-label="Counted in"
                  value={chord.in}
                  onChange={(event) =>
                    change((old) => ({
                      ...old,
                      chord: { ...old.chord, in: event.target.value as NotePath['chord']['in'] },
                    }))
                  }
                >
                  <option value="semitones">semitones</option>
                  <option value="steps">steps of the scale</option>
                </select>
              </div>
            ) : (
              <div className="flex gap-1.5">
                <NumberField
                  label="adds"
                  value={chord.notes.length}
                  low={1}
                  high={MOST_ADDED}
                  onChange={(count) =>
                    change((old) => ({
                      ...old,
                      chord: { ...old.chord, notes: Array.from({ length: count }, (_, i) => old.chord.notes[i] ?? 0) },
                    }))
                  }
                />
                <button
                  className="button px-2! py-0.5! text-[12px]"
                  title="Other chance: the same again with each key"
                  onClick={() => change((old) => ({ ...old, seed: (old.seed + 1) % 1000000 }))}
                >
                  roll again
                </button>
                <span
                  className="number self-center text-[11.5px] text-faint"
                  title="The seed: the same number gives the same chords"
                >
                  {path.seed}
                </span>
              </div>
            )}
            {strip('strum')}
            <Spelled layer={layer} />
          </>
        )}
      </Part>
      <Part title="Voices">
        <NumberField
          label="at most (0: any number)"
          value={path.limit}
          low={0}
          high={MOST_LIMIT}
          onChange={(limit) => change((old) => ({ ...old, limit }))}
        />
        <p className="text-[12px] text-faint">{costOf(layer)}</p>
      </Part>
      <Part title="Goes to">
        <div className="flex gap-1.5">
          <select
            className="field min-w-0 flex-1"
            aria-label="Where its notes go"
            value={path.instrument ?? ''}
            onChange={(event) => {
              if (event.target.value === NEW) addOutside();
              else change((old) => ({ ...old, instrument: event.target.value || null }));
            }}
          >
            <option value="">its sound</option>
            {instruments.map(({ id, name, output }) => (
              <option key={id} value={id}>
                {name}
                {session.outputs.has(output) ? '' : ' (not there)'}
              </option>
            ))}
            <option value={NEW}>+ instrument outside …</option>
          </select>
          <button
            className="button"
            title="What instruments outside are told, and which of their values move"
            onClick={() => dispatch(deskSlice.actions.sheetOpened('outside'))}
          >
            Outside …
          </button>
        </div>
      </Part>
    </>
  );
}

/** What a note of the layer costs, by what would answer middle C, or the key that was struck last. */
function costOf(layer: Layer): string {
  const { program } = session;
  const place = program?.layers.findIndex(({ id }) => id === layer.id) ?? -1;
  if (!program || place < 0) return '';
  const last = session.hands.strikes[session.hands.strikes.length - 1];
  const zones = resolveStrikes(program, last?.key ?? 60, last?.velocity ?? 100)[0].filter(
    (answer) => answer.layer === place,
  ).length;
  const voices = zones * Math.round(paramOf(layer, 'unison'));
  const share =
    session.audio.meters[METER.voices] > 0 ? session.audio.meters[METER.load] / session.audio.meters[METER.voices] : 0;
  return `A key takes ${voices} ${voices === 1 ? 'voice' : 'voices'} of 256${share > 0 && voices > 0 ? `, about ${(100 * share * voices).toFixed(1)} % of the time there is` : ''}.`;
}

export const Switch = ({ on, label, onChange }: { on: boolean; label: string; onChange: (on: boolean) => void }) => (
  <button
    className="button px-2! py-0! text-[11.5px]"
    role="switch"
    aria-checked={on}
    aria-label={label}
    aria-pressed={on}
    onClick={() => onChange(!on)}
  >
    {on ? 'on' : 'off'}
  </button>
);

/** What the chord of the key that was struck last is called, or of middle C. */
function Spelled({ layer }: { layer: Layer }) {
  useRefresh(session.hands);
  useTick(layer.path.chord.harmony === 'drawn');
  const middleC = useAppSelector((state) => state.settings.middleC);
  const last = session.hands.strikes[session.hands.strikes.length - 1]?.key ?? 60;
  const keys = layer.path.chord.harmony === 'drawn' ? [] : chordOfKey(layer.path, last + layer.transpose);
  if (layer.path.chord.harmony === 'drawn') {
    const sounding = [...session.made.keys]
      .filter(([, place]) => session.program?.layers[place]?.id === layer.id)
      .map(([key]) => key);
    return (
      <p className="text-[12px]">
        {sounding.length > 0 ? (
          <>
            <b>{nameOfChord(sounding) ?? spelledKeys(sounding, middleC)}</b>{' '}
            <span className="text-faint">just now</span>
          </>
        ) : (
          <span className="text-faint">Play: each chord is named as it falls.</span>
        )}
      </p>
    );
  }
  return (
    <p className="text-[12px]">
      {nameOfKey(last, middleC)} gives{' '}
      {keys.length > 0 ? (
        nameOfChord(keys) ? (
          <>
            <b>{nameOfChord(keys)}</b> <span className="text-faint">({spelledKeys(keys, middleC)})</span>
          </>
        ) : (
          <b>{spelledKeys(keys, middleC)}</b>
        )
      ) : (
        'nothing'
      )}
    </p>
  );
}
