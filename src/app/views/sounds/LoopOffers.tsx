import { useEffect, useRef, useState } from 'react';
import { mendingCrossfade, PUMPS_DB, type FoundLoop, type LoopQuality } from '../../../core/measure/loop';
import { addSamples, updateSound, updateZones } from '../../../core/rig/edits/zones';
import type { Sample, Sound, Zone } from '../../../core/rig/schema';
import { soundLab } from '../../document/soundLab';
import { edit, notice, useAppDispatch } from '../../document/store';

export const percent = (share: number): string =>
  `${(100 * share).toFixed(Math.abs(share) < 0.1 ? 1 : 0).replace('-', '−')} %`;
/** How loud a loop ends against its beginning, in words. */
const levelWords = (db: number): string =>
  Math.abs(db) < 0.1
    ? 'as loud at its end'
    : `${Math.abs(db).toFixed(1)} dB ${db < 0 ? 'softer' : 'louder'} at its end`;
const pumps = ({ levelDb }: LoopQuality): boolean => Math.abs(levelDb) > PUMPS_DB;
/** A loop that is less like itself than this is heard at its joint. */
const UNLIKE = 0.9;

/** What the joint of a loop does, over the wave. */
export function LoopJoint({ quality }: { quality: LoopQuality }) {
  return (
    <p data-testid="loop-quality">
      joint of the loop: level {percent(quality.levelStep)}, slope {percent(quality.slopeStep)}, both sides{' '}
      <span className={quality.correlation < UNLIKE ? 'text-alarm' : ''}>{percent(quality.correlation)} alike</span>,{' '}
      <span className={pumps(quality) ? 'text-alarm' : ''}>{levelWords(quality.levelDb)}</span>
    </p>
  );
}

interface Props {
  sound: Sound;
  zone: Zone;
  sample: Sample;
  targets: ReadonlySet<number>;
  quality: LoopQuality | null;
  ready: boolean;
  /** Where it is looked for. */
  near: { start: number; end: number };
  change: (edited: (old: Zone) => Zone) => void;
}

/** Looks for loops near the one there is, and mends what is heard of it. */
export function LoopOffers({ sound, zone, sample, targets, quality, ready, near, change }: Props) {
  const dispatch = useAppDispatch();
  const [found, setFound] = useState<FoundLoop[] | 'searching' | null>(null);
  const [evening, setEvening] = useState(false);
  const list = useRef<HTMLDivElement>(null);
  useEffect(() => setFound(null), [sample.id]);
  // What was found is what one looks for next, however far down the panel is.
  useEffect(() => {
    if (found !== null) list.current?.scrollIntoView({ block: 'nearest' });
  }, [found]);
  const search = async () => {
    setFound('searching');
    try {
      const loops = await soundLab.ask({
        type: 'findLoops',
        sampleId: sample.id,
        ...near,
        reach: Math.round(sample.rate / 8),
      });
      // What the zone does not play is no place for its loop.
      setFound(loops.filter((loop) => loop.start >= zone.start && loop.end <= (zone.end ?? sample.frames)));
    } catch {
      setFound([]);
    }
  };
  const { loop } = zone;
  const crossfade = loop ? mendingCrossfade(loop) : 0;
  /** A copy of the recording takes its place in the zones that are meant. */
  const even = async () => {
    if (!loop) return;
    setEvening(true);
    try {
      const brought = await soundLab.ask({
        type: 'evenLoop',
        sampleId: sample.id,
        start: loop.start,
        end: loop.end,
        name: `${sample.name.replace(/\.[a-z]+$/i, '')} even.wav`,
      });
      const here = new Set([...targets].filter((place) => sound.zones[place]?.sampleId === sample.id));
      dispatch(
        edit((old) =>
          updateSound(addSamples(old, [brought.sample]), sound.id, (value) =>
            updateZones(value, here, (each) => ({ ...each, sampleId: brought.sample.id })),
          ),
        ),
      );
    } catch (error) {
      dispatch(notice('problem', `The loop cannot be evened out: ${(error as Error).message}.`));
    }
    setEvening(false);
  };
  return (
    <div ref={list} className="flex flex-col gap-1.5">
      <button className="button justify-center" disabled={!ready} onClick={() => void search()}>
        Find a loop{loop ? ' near this one' : ''}
      </button>
      {found === 'searching' && (
        <p role="status" className="text-faint">
          listening …
        </p>
      )}
      {Array.isArray(found) && found.length === 0 && (
        <p role="status" className="text-faint">
          Nothing near closes better.
        </p>
      )}
      {Array.isArray(found) && found.length > 0 && (
        <ul className="flex flex-col gap-0.5">
          {found.map(({ start, end, quality: each }) => (
            <li key={`${start} ${end}`}>
              <button
                className="number w-full rounded px-1 text-left hover:bg-ink/8"
                onClick={() =>
                  change((old) => ({ ...old, loop: { crossfade: 0, until: 'end', ...old.loop, start, end } }))
                }
              >
                {start}–{end}: {percent(each.correlation)} alike,{' '}
                <span className={pumps(each) ? 'text-alarm' : ''}>{levelWords(each.levelDb)}</span>
              </button>
            </li>
          ))}
        </ul>
      )}
      {loop && quality && pumps(quality) && (
        <div role="note" className="flex flex-col gap-1">
          <p className="text-alarm">
            This loop is {levelWords(quality.levelDb)}: a held note jumps back to its level each time round.
          </p>
          <button
            className="button justify-center"
            disabled={evening}
            title="A copy of the recording whose loop stays as loud as it begins"
            onClick={() => void even()}
          >
            {evening ? 'Evening out …' : 'Even its level out'}
          </button>
        </div>
      )}
      {loop &&
        quality &&
        (pumps(quality) || quality.correlation < UNLIKE || quality.levelStep > 0.05) &&
        crossfade > loop.crossfade && (
          <button
            className="button justify-center"
            title="Half of the loop goes over into what leads up to its start"
            onClick={() => change((old) => (old.loop ? { ...old, loop: { ...old.loop, crossfade } } : old))}
          >
            Crossfade half of it
          </button>
        )}
    </div>
  );
}
