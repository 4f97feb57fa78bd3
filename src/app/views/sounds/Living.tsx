import { useMemo, useState } from 'react';
import type { Audio } from '../../../core/dsp/sample';
import {
  equalPieces,
  piecesAt,
  piecesAtStrikes,
  piecesBetweenSilences,
  type Piece,
} from '../../../core/measure/strikes';
import { loopHz } from '../../../core/measure/loop';
import { nameOfKey, parseKey } from '../../../core/music/noteNames';
import { doubledAbove, sweepLoops } from '../../../core/rig/edits/moves';
import { setParam, updatePatch } from '../../../core/rig/edits/layers';
import { cutZone, frozenZone, updateSound, updateZones, type PiecesOn } from '../../../core/rig/edits/zones';
import type { Layer, Patch, Sample, Sound, Zone } from '../../../core/rig/schema';
import { Strip } from '../../parts/Strip';
import { SHARE, type Parameter } from '../../../core/rig/parameters';
import { TypedField } from '../../parts/TypedField';
import { auditionSound } from '../../jobs/audition';
import { edit, editPatch, newId, notice, useAppDispatch, useAppSelector } from '../../document/store';
import { soundsSlice } from './soundsSlice';

interface Props {
  patch: Patch;
  sound: Sound;
  layer: Layer | null;
  zone: Zone;
  place: number;
  sample: Sample;
}

/** A loop of a moment: frozen at a place, moved by a macro, doubled an octave up. */
export function Freeze({ patch, sound, layer, zone, place, sample, at }: Props & { at: number | null }) {
  const dispatch = useAppDispatch();
  const middleC = useAppSelector((state) => state.settings.middleC);
  const frame = at ?? Math.round((zone.start + (zone.end ?? sample.frames)) / 2);
  const freeze = () => {
    const frozen = frozenZone(zone, frame, sample.frames);
    const hz = loopHz(sample.rate, frozen.loop!.start, frozen.loop!.end);
    const warnings = [
      `heard as a tone of ${hz.toFixed(1)} Hz (${nameOfKey(Math.round(69 + 12 * Math.log2(hz / 440)), middleC)}) of its own`,
      ...(frozen.loop!.crossfade < 200
        ? ['nothing precedes it for its crossfade: a little later it would be smoother']
        : []),
    ];
    dispatch(
      edit((rig) => {
        const looped = updateSound(rig, sound.id, (old) => updateZones(old, new Set([place]), () => frozen));
        if (!layer) return looped;
        return updatePatch(looped, patch.id, (old) => {
          const length = setParam(setParam(old, layer.id, 'loopLength', 100), layer.id, 'loopPosition', 0);
          return sweepLoops(length, layer.id, frozen.loop!.start / sample.frames) ?? length;
        });
      }),
    );
    dispatch(
      notice(
        'info',
        `Frozen in ${frozen.loop!.end - frozen.loop!.start} frames: ${warnings.join('; ')}.${layer ? ' The macro Sweep moves it through the sample.' : ''}`,
        'freeze',
      ),
    );
  };
  return (
    <>
      <button
        className="button justify-center"
        title={
          at === null
            ? 'Click into the waveform to choose the moment'
            : 'A loop of about a thousand frames there, and a macro that moves it'
        }
        onClick={freeze}
      >
        Freeze {at === null ? 'the middle' : 'here'}
      </button>
      {layer && zone.loop && (
        <button
          className="button justify-center"
          title="A second copy of the layer an octave up, with a slightly different range"
          onClick={() => dispatch(editPatch(patch.id, (old) => doubledAbove(old, layer.id, newId())))}
        >
          Double an octave up
        </button>
      )}
    </>
  );
}

const SENSITIVITY: Parameter = {
  ...SHARE,
  id: 'cutRise',
  label: 'strikes that rise by',
  unit: 'dB',
  low: 3,
  high: 30,
  default: 9,
  help: 'How much louder it must get at once to count as a strike.',
};
const FLOOR: Parameter = {
  ...SHARE,
  id: 'cutFloor',
  label: 'silence below',
  unit: 'dB',
  low: -80,
  high: -20,
  default: -48,
  help: 'What counts as silence, under the loudest moment.',
};
const COUNT: Parameter = {
  ...SHARE,
  id: 'cutCount',
  label: 'parts',
  unit: '',
  low: 2,
  high: 128,
  law: 'steps',
  default: 8,
  help: 'How many equal parts.',
};
type How = 'strikes' | 'silences' | 'equal' | 'hand';

/** A long recording cut into zones: where, how many, on which keys; each piece is heard before anything is placed. */
export function useCuts(zone: Zone, sample: Sample, audio: Audio | null) {
  const [how, setHow] = useState<How | null>(null);
  const [rise, setRise] = useState(9);
  const [floor, setFloor] = useState(-48);
  const [count, setCount] = useState(8);
  const [byHand, setByHand] = useState<number[]>([0]);
  const pieces = useMemo((): Piece[] => {
    if (!how || !audio) return [];
    if (how === 'strikes') return piecesAtStrikes(audio, rise);
    if (how === 'silences') return piecesBetweenSilences(audio, floor);
    return how === 'equal' ? equalPieces(sample.frames, count) : piecesAt(byHand, sample.frames, sample.rate);
  }, [how, audio, rise, floor, count, byHand, sample]);
  const toggle = (frame: number) =>
    setByHand((old) => {
      const near = old.find((each) => Math.abs(each - frame) < sample.rate * 0.01);
      return near === undefined ? [...old, frame].sort((a, b) => a - b) : old.filter((each) => each !== near);
    });
  return { how, setHow, rise, setRise, floor, setFloor, count, setCount, pieces, toggle, zone };
}

export function CutPanel({
  sound,
  zone,
  place,
  sample,
  cuts,
}: Omit<Props, 'patch' | 'layer'> & { cuts: ReturnType<typeof useCuts> }) {
  const dispatch = useAppDispatch();
  const middleC = useAppSelector((state) => state.settings.middleC);
  const { keyLow } = useAppSelector((state) => state.rig.rig!.controllers);
  const [on, setOn] = useState<PiecesOn>('keys');
  const [key, setKey] = useState<number>(Math.max(keyLow, 36));
  const { how, setHow, pieces } = cuts;
  if (!how)
    return (
      <button
        className="button justify-center"
        title="At strikes, at silences, in equal parts or by hand"
        onClick={() => setHow('strikes')}
      >
        Cut into zones …
      </button>
    );
  const hear = (piece: Piece) =>
    void auditionSound({
      name: sample.name,
      zones: [
        {
          ...zone,
          key: { ...zone.key, low: 0, high: 127, fadeIn: 0, fadeOut: 0 },
          root: 60,
          start: piece.start,
          end: piece.end,
          loop: null,
          playback: 'full-length',
          alternate: null,
          fadeOut: 0.004,
        },
      ],
      samples: [sample],
    }).then((problem) => {
      if (problem) dispatch(notice('problem', problem));
    });
  const fits = on === 'keys' ? Math.min(pieces.length, 128 - key) : pieces.length;
  return (
    <section aria-label="Cut into zones" className="flex flex-col gap-1.5 rounded-md border border-line p-1.5">
      <select className="field" aria-label="Cut" value={how} onChange={(event) => setHow(event.target.value as How)}>
        <option value="strikes">at strikes</option>
        <option value="silences">at silences</option>
        <option value="equal">in equal parts</option>
        <option value="hand">by hand: click into the waveform</option>
      </select>
      {how === 'strikes' && <Strip parameter={SENSITIVITY} value={cuts.rise} onChange={cuts.setRise} plays />}
      {how === 'silences' && <Strip parameter={FLOOR} value={cuts.floor} onChange={cuts.setFloor} plays />}
      {how === 'equal' && <Strip parameter={COUNT} value={cuts.count} onChange={cuts.setCount} plays />}
      <div className="flex flex-wrap gap-0.5" role="group" aria-label="Pieces, to be heard">
        {pieces.slice(0, 64).map((piece, i) => (
          <button
            key={i}
            className="button min-w-6! px-1! py-0! text-[11px]"
            aria-label={`Hear piece ${i + 1}`}
            onClick={() => hear(piece)}
          >
            {i + 1}
          </button>
        ))}
      </div>
      <select
        className="field"
        aria-label="Pieces become"
        value={on}
        onChange={(event) => setOn(event.target.value as PiecesOn)}
      >
        <option value="keys">one piece a key, from</option>
        <option value="alternates">alternates on</option>
      </select>
      <TypedField
        label="key"
        text={nameOfKey(key, middleC)}
        commit={(text) => {
          const read = parseKey(text, middleC);
          if (read === undefined) return 'a key such as C2, or its number';
          setKey(read);
          return undefined;
        }}
      />
      <div className="flex gap-1">
        <button
          className="button flex-1 justify-center font-semibold"
          disabled={pieces.length < 2}
          onClick={() => {
            dispatch(edit((rig) => updateSound(rig, sound.id, (old) => cutZone(old, place, pieces, on, key))));
            dispatch(soundsSlice.actions.zonesChosen([]));
            dispatch(
              notice(
                'info',
                `${fits} ${fits === 1 ? 'zone' : 'zones'} of “${sample.name}”${fits < pieces.length ? `; ${pieces.length - fits} had no key left` : ''}.`,
                'cut',
              ),
            );
            setHow(null);
          }}
        >
          Place {fits}
        </button>
        <button className="button" onClick={() => setHow(null)}>
          not now
        </button>
      </div>
    </section>
  );
}
