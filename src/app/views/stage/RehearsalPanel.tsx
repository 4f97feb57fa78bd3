import { X } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import type { Rehearsed } from '../../../core/measure/rehearse';
import { plainTake } from '../../../core/music/plainTake';
import type { Take } from '../../../core/music/take';
import { setlistOf } from '../../../core/rig/setlist';
import type { Patch, Rig } from '../../../core/rig/schema';
import { fetchTakes } from '../../jobs/takesThere';
import { rehearseStep } from '../../jobs/measuring';
import { handsTake } from '../../../core/rig/takes';
import { playedAt, show, stepsOfShow, titleOfStep } from '../../show/show';
import { minus } from '../../parts/format';
import { useAppDispatch } from '../../document/store';
import { showSlice } from '../../show/showSlice';
import { NewToShow } from './NewToShow';
import { ToldOutside } from './ToldOutside';

type Row = Rehearsed | string | undefined;
/** Loudness further than this from the middle of the show is marked: ± 1 LU. Common practice, no source. */
const FAR_LU = 1;
const FULL_DB = -1,
  LOADED = 0.6,
  SLOW_MS = 10;

const middleOf = (values: number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];

/**
 * The show from its first step to its last, in as little time as the machine takes, with what there is to know of each
 * patch. It makes no sound.
 */
export function RehearsalPanel({ rig }: { rig: Rig }) {
  const dispatch = useAppDispatch();
  const steps = stepsOfShow(rig);
  const [rows, setRows] = useState<Row[]>([]);
  const [running, setRunning] = useState(true);
  const stopped = useRef(false);
  useEffect(() => {
    stopped.current = false;
    if (!running) return undefined;
    let live = true;
    const walk = async () => {
      const takes = await fetchTakes().catch(() => new Map<string, Take>());
      let before: Patch | null = null;
      const found: Row[] = [];
      for (const [place, step] of steps.entries()) {
        if (!live || stopped.current) return;
        const played = step.patch ? playedAt(rig, place)! : undefined;
        if (played) {
          try {
            const take =
              handsTake(played.patch) ??
              takes.get(played.patch.id) ??
              plainTake(rig.controllers.keyLow, rig.controllers.keyHigh);
            found[place] = await rehearseStep(rig, played.patch, take, before);
          } catch (error) {
            found[place] = (error as Error).message;
          }
          before = played.patch;
        }
        if (live) setRows([...found]);
      }
      if (live) setRunning(false);
    };
    void walk();
    return () => {
      live = false;
    };
  }, [running, rig, steps]);
  const loudness = rows.flatMap((row) => (typeof row === 'object' && row.lufs !== null ? [row.lufs] : []));
  const middle = loudness.length > 0 ? middleOf(loudness) : 0;
  const marked = (bad: boolean) => `number px-2 py-1.5 text-right ${bad ? 'font-bold text-alarm' : ''}`;
  return (
    <section
      role="dialog"
      aria-label="Rehearsal"
      className="panel fixed inset-x-3 top-16 bottom-3 z-40 mx-auto flex max-w-[960px] flex-col gap-3 text-[15px]"
    >
      <div className="flex items-center gap-3">
        <h2 className="flex-1 text-[20px] font-bold">Rehearsal of “{setlistOf(rig).name}”</h2>
        {running ? (
          <button
            className="button h-11"
            onClick={() => {
              stopped.current = true;
              setRunning(false);
            }}
          >
            Stop
          </button>
        ) : (
          <button
            className="button h-11"
            onClick={() => {
              setRows([]);
              setRunning(true);
            }}
          >
            Again
          </button>
        )}
        <button
          className="button-bare h-11! min-w-11!"
          aria-label="Close"
          onClick={() => dispatch(showSlice.actions.stagePanelOpened(null))}
        >
          <X size={22} />
        </button>
      </div>
      <p className="text-faint" role="status">
        {running
          ? `Playing ${Math.min(steps.length, rows.length + 1)} of ${steps.length}, faster than time …`
          : loudness.length > 0
            ? `The middle of the show is at ${minus(middle.toFixed(1))} LUFS; what is further than 1 LU from it, close to full scale, heavy or slow is marked.`
            : 'Nothing was played.'}
      </p>
      <NewToShow rig={rig} setlist={setlistOf(rig)} />
      <div className="min-h-0 flex-1 overflow-auto">
        <table className="w-full border-collapse" data-testid="rehearsal">
          <thead>
            <tr className="border-b border-edge text-left text-[13px] text-faint">
              {['', 'patch', 'loudness', 'peak', 'limiter', 'voices', 'load', 'change', 'samples'].map((title, i) => (
                <th key={i} className={`px-2 py-1 font-semibold ${i > 1 ? 'text-right' : ''}`}>
                  {title}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {steps.map((step, place) => {
              const row = rows[place];
              const { title, song } = titleOfStep(rig, step);
              const tenths = (x: number) => minus(x.toFixed(1));
              return (
                <tr key={step.id} className="border-b border-line align-top">
                  <td className="number px-2 text-faint">{place + 1}</td>
                  <td className="max-w-64">
                    <button
                      dir="auto"
                      className="min-h-10 w-full truncate px-2 text-left underline-offset-2 hover:underline"
                      onClick={() => show.goTo(place)}
                    >
                      {title}
                      {song ? <span className="text-faint"> · {song}</span> : null}
                    </button>
                    {step.patch && <ToldOutside rig={rig} patch={step.patch} />}
                  </td>
                  {typeof row === 'string' ? (
                    <td colSpan={7} className="px-2 text-alarm">
                      {row}
                    </td>
                  ) : !row ? (
                    <td colSpan={7} className="px-2 text-faint">
                      {step.patch ? (running && place === rows.length ? '…' : '') : 'pause'}
                    </td>
                  ) : (
                    <>
                      <td className={marked(row.lufs === null || Math.abs(row.lufs - middle) > FAR_LU)}>
                        {row.lufs === null ? 'silent' : `${tenths(row.lufs)} LUFS`}
                      </td>
                      <td className={marked((row.truePeakDb ?? -99) > FULL_DB)}>
                        {row.truePeakDb === null ? '' : `${tenths(row.truePeakDb)} dB`}
                      </td>
                      <td className={marked(row.limiterDb < -0.5)}>
                        {row.limiterDb < -0.05 ? `${tenths(row.limiterDb)} dB` : '–'}
                      </td>
                      <td className={marked(row.voices >= 200)}>{row.voices}</td>
                      <td
                        className={marked(row.worstLoad > LOADED)}
                        title={`on the whole ${Math.round(row.load * 100)} %`}
                      >
                        {Math.round(row.worstLoad * 100)} %
                      </td>
                      <td className={marked(row.switchMs > SLOW_MS)}>{row.switchMs.toFixed(1)} ms</td>
                      <td className={marked(row.missing > 0)}>
                        {row.missing > 0 ? `${row.missing} missing` : 'all here'}
                      </td>
                    </>
                  )}
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
    </section>
  );
}
