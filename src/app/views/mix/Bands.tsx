import { Popover } from 'radix-ui';
import { Fragment, useEffect, useMemo, useState } from 'react';
import { makeRoom, middleOf, sharedThirds, THIRDS } from '../../../core/measure/bands';
import { withCuts, type Cut } from '../../../core/rig/edits/cuts';
import type { Layer, Patch } from '../../../core/rig/schema';
import type { Take } from '../../../core/music/take';
import { measure } from '../../jobs/measuring';
import { colourOf, Mark } from '../../parts/Mark';
import { useRefresh } from '../../parts/useLive';
import { session } from '../../sound/session';
import { editPatch, notice, useAppDispatch, useAppSelector } from '../../document/store';
import { listeningSlice } from '../../listening/listeningSlice';

const MOST_SECONDS = 16;
const LOW_DB = -84,
  HIGH_DB = -12;

/**
 * Who is in whose band: each layer's spectrum over the take, and the thirds of octaves in which two layers lie within 6
 * dB of each other.
 */
export function Bands({ patch }: { patch: Patch }) {
  const rig = useAppSelector((state) => state.rig.rig)!;
  useRefresh(session.takes);
  const { take } = session.takes;
  const [found, setFound] = useState<{
    patch: Patch;
    take: Take;
    levels: ReadonlyMap<string, readonly number[]>;
  } | null>(null);
  const [state, setState] = useState<'idle' | 'measuring' | 'failed'>('idle');
  const key = useMemo(() => patch.layers.map(({ id }) => id).join(' '), [patch.layers]);
  useEffect(() => {
    if (!take || patch.layers.length === 0) return undefined;
    let given = false;
    // Once the hand rests: a render of each layer takes a while.
    const later = setTimeout(() => {
      setState('measuring');
      // The first bars tell enough of it.
      const part = {
        ...take,
        seconds: Math.min(take.seconds, MOST_SECONDS),
        events: take.events.filter(({ at }) => at < MOST_SECONDS),
      };
      measure(rig, patch, part, { bands: patch.layers.map(({ id }) => id) }).then(
        ({ bands }) => {
          if (given) return;
          setFound({ patch, take, levels: new Map(patch.layers.map(({ id }, i) => [id, bands[i]])) });
          setState(bands.length > 0 ? 'idle' : 'failed');
        },
        () => {
          if (!given) setState('failed');
        },
      );
    }, 700);
    return () => {
      clearTimeout(later);
      given = true;
    };
    // The rig is looked at when it is measured; what matters of it is the patch.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [patch, take]);
  const levels =
    found && found.patch.id === patch.id && [...found.levels.keys()].join(' ') === key ? found.levels : null;
  const layers = patch.layers.filter(({ id }) => levels?.get(id)?.some((db) => db > LOW_DB));
  const shared = useMemo(
    () =>
      THIRDS.map(
        (_, i) =>
          levels !== null &&
          layers.some((a, n) => layers.slice(n + 1).some((b) => sharedThirds(levels.get(a.id)!, levels.get(b.id)!)[i])),
      ),
    [levels, layers],
  );
  const height = 128;
  const up = (db: number) => Math.max(0, Math.min(1, (db - LOW_DB) / (HIGH_DB - LOW_DB))) * height;
  return (
    <section
      aria-label="Who is in whose band"
      className="grid min-h-0 min-w-0 grid-cols-[232px_minmax(0,1fr)] border-t border-line"
    >
      <div className="flex flex-col items-start gap-1.5 p-3">
        <h2 className="text-[14px] font-bold">Who is in whose band</h2>
        <p className="text-[12px] leading-snug text-faint">
          {!take
            ? 'Load or record a take: each layer is measured over it.'
            : state === 'failed'
              ? 'It could not be measured.'
              : levels === null
                ? 'measuring …'
                : `Thirds of octaves over the take. Hatched: two layers within 6 dB of each other${state === 'measuring' ? ' (measuring …)' : ''}.`}
        </p>
        {levels && <MakeRoom patch={patch} layers={layers} levels={levels} />}
      </div>
      <div className="grid min-h-0 min-w-0 grid-rows-[minmax(0,1fr)_20px] pt-2">
        <svg
          className="h-full w-full"
          viewBox={`0 0 ${THIRDS.length * 26} ${height}`}
          preserveAspectRatio="none"
          role="img"
          aria-label={`Spectra of ${layers.length} layers; shared: ${shared.filter(Boolean).length} thirds of octaves`}
          data-testid="bands"
          data-shared={shared.filter(Boolean).length}
        >
          <defs>
            <pattern id="shared" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(-35)">
              <line x1="0" y1="0" x2="5" y2="0" stroke="var(--clay)" strokeWidth="1.6" />
            </pattern>
          </defs>
          {THIRDS.map((hz, i) => (
            <g key={hz} transform={`translate(${i * 26 + 3} 0)`}>
              {layers.map((layer) => {
                const y = up(levels!.get(layer.id)![i]);
                return (
                  y > 0 && (
                    <g key={layer.id}>
                      <rect x={0} y={height - y} width={20} height={y} fill={colourOf(layer.mark)} fillOpacity={0.28} />
                      <line
                        x1={0}
                        x2={20}
                        y1={height - y}
                        y2={height - y}
                        stroke={colourOf(layer.mark)}
                        strokeWidth={1.6}
                      />
                    </g>
                  )
                );
              })}
              {shared[i] && levels && (
                <rect
                  x={0}
                  y={height - Math.max(...layers.map(({ id }) => up(levels.get(id)![i])))}
                  width={20}
                  height={Math.max(...layers.map(({ id }) => up(levels.get(id)![i])))}
                  fill="url(#shared)"
                  fillOpacity={0.8}
                />
              )}
            </g>
          ))}
        </svg>
        <div aria-hidden className="number flex text-[11px] text-faint">
          {THIRDS.map((hz, i) => (
            <span key={hz} className="min-w-0 flex-1 text-center whitespace-nowrap">
              {i % 3 === 0 ? (hz >= 1000 ? `${Math.round(hz / 1000)}k` : Math.round(hz)) : ''}
            </span>
          ))}
        </div>
      </div>
    </section>
  );
}

const cutOf = ({ id }: Layer, kind: Cut['kind'], hz: number | null): Cut[] =>
  hz === null ? [] : [{ layerId: id, kind, hz }];
interface Proposal {
  lower: Layer;
  upper: Layer;
  cuts: Cut[];
  before: number;
  after: number;
}

/** Proposes cuts for two layers in each other's band, to be heard before they are taken. */
function MakeRoom({
  patch,
  layers,
  levels,
}: {
  patch: Patch;
  layers: readonly Layer[];
  levels: ReadonlyMap<string, readonly number[]>;
}) {
  const dispatch = useAppDispatch();
  const trial = useAppSelector((state) => state.listening.mixTrial);
  const [open, setOpen] = useState(false);
  const proposals = useMemo(
    (): Proposal[] =>
      !open
        ? []
        : layers
            .flatMap((a, n) =>
              layers.slice(n + 1).flatMap((b): Proposal[] => {
                const [lower, upper] = middleOf(levels.get(a.id)!) <= middleOf(levels.get(b.id)!) ? [a, b] : [b, a];
                const room = makeRoom(levels.get(lower.id)!, levels.get(upper.id)!);
                return room
                  ? [
                      {
                        lower,
                        upper,
                        before: room.before,
                        after: room.after,
                        cuts: [
                          ...cutOf(upper, 'low cut', room.lowCutUpper),
                          ...cutOf(lower, 'high cut', room.highCutLower),
                        ],
                      },
                    ]
                  : [];
              }),
            )
            .sort((a, b) => b.before - a.before)
            .slice(0, 4),
    [open, layers, levels],
  );
  const end = () => dispatch(listeningSlice.actions.mixTrialSet(null));
  const tried = (proposal: Proposal) => trial !== null && JSON.stringify(trial.cuts) === JSON.stringify(proposal.cuts);
  return (
    <Popover.Root
      open={open}
      onOpenChange={(next) => {
        setOpen(next);
        if (!next) end();
      }}
    >
      <Popover.Trigger className="button px-2! py-0.5!" disabled={layers.length < 2}>
        Make room …
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="top"
          align="start"
          sideOffset={6}
          collisionPadding={8}
          className="panel w-[420px]"
          aria-label="Make room"
        >
          <div className="flex flex-col gap-2">
            <h3 className="text-[14px] font-bold">Make room</h3>
            {proposals.length === 0 && (
              <p className="text-[12.5px] text-faint">No two layers lie in each other’s band.</p>
            )}
            {proposals.map((proposal) => (
              <div
                key={`${proposal.lower.id} ${proposal.upper.id}`}
                className="flex flex-col gap-1 border-t border-line pt-1.5 text-[12.5px]"
              >
                <p className="flex flex-wrap items-center gap-1">
                  {proposal.cuts.map(({ layerId, kind, hz }) => {
                    const layer = layerId === proposal.upper.id ? proposal.upper : proposal.lower;
                    return (
                      <Fragment key={layerId}>
                        <Mark mark={layer.mark} size={11} />
                        <b>{layer.name}</b> loses what lies {kind === 'low cut' ? 'below' : 'above'} {hz} Hz,{' '}
                      </Fragment>
                    );
                  })}
                  beside{' '}
                  {proposal.cuts.length === 1 ? (
                    <b>{proposal.cuts[0].layerId === proposal.upper.id ? proposal.lower.name : proposal.upper.name}</b>
                  ) : (
                    'each other'
                  )}
                  : {proposal.before} shared thirds become {proposal.after}.
                </p>
                <div className="flex gap-1.5">
                  <button
                    className="button px-2! py-0.5!"
                    aria-pressed={tried(proposal)}
                    onClick={() =>
                      dispatch(
                        listeningSlice.actions.mixTrialSet(
                          tried(proposal) ? null : { patchId: patch.id, cuts: proposal.cuts },
                        ),
                      )
                    }
                  >
                    hear it
                  </button>
                  <button
                    className="button px-2! py-0.5!"
                    onClick={() => {
                      end();
                      dispatch(editPatch(patch.id, (old) => withCuts(old, proposal.cuts)));
                      dispatch(
                        notice(
                          'info',
                          `Room is made: ${proposal.cuts.length === 1 ? 'a cut lies on its stretch' : 'two cuts lie on their stretches'}.`,
                          'room',
                        ),
                      );
                      setOpen(false);
                    }}
                  >
                    take it
                  </button>
                </div>
              </div>
            ))}
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
