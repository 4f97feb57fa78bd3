import { Pause } from 'lucide-react';
import { useCallback, useMemo, useRef, type CSSProperties } from 'react';
import { notesOfStep, type ShowStep } from '../../../core/rig/setlist';
import type { Patch, Rig } from '../../../core/rig/schema';
import { METER, METERED_LAYERS } from '../../../host/protocol';
import { sourceNow } from '../../sound/live';
import { macroView } from '../../show/stageState';
import { colourOf, Mark } from '../../parts/Mark';
import { signed } from '../../parts/format';
import { useFrames } from '../../parts/useLive';
import { session } from '../../sound/session';
import { titleOfStep } from '../../show/show';
import { StageMacro, type MacroView } from './StageMacro';

/** What plays, by the name that the show gives it; without a step it is a patch that the show does not have. */
interface TitleProps {
  rig: Rig;
  step: ShowStep | undefined;
  playing: Patch;
  /** Words and chords stand below: they need the room. */
  small?: boolean;
}
export function Title({ rig, step, playing, small = false }: TitleProps) {
  const { title, song } = step ? titleOfStep(rig, step) : { title: playing.name, song: 'not in this setlist' };
  const { transpose, minutes } = step?.entry ?? { transpose: 0, minutes: 0 };
  const notes = step ? notesOfStep(step) : playing.notes;
  // Names of any length stay on two lines.
  const size = (title.length > 34 ? 4.2 : title.length > 20 ? 5.4 : 7.2) * (small ? 0.55 : 1);
  return (
    <div className="min-w-0 shrink-0">
      {song && <p className="truncate text-[clamp(15px,2vw,24px)] leading-tight text-faint">{song}</p>}
      <h1
        className="line-clamp-2 pb-[0.06em] leading-[1.1] font-bold break-words"
        data-testid="stage-title"
        style={{ fontSize: `clamp(30px, min(${size}vw, ${size * 1.9}vh), 104px)` }}
      >
        {title}
      </h1>
      <p className="mt-1 flex flex-wrap gap-x-4 text-[clamp(14px,1.5vw,19px)] text-ochre">
        {transpose !== 0 && (
          <span>
            {signed(transpose)} {Math.abs(transpose) === 1 ? 'semitone' : 'semitones'}
          </span>
        )}
        {step?.patch === null && (
          <span className="inline-flex items-center gap-1.5">
            <Pause size={17} aria-hidden /> {minutes > 0 ? `${minutes} minutes · ` : ''}
            {playing.name} goes on playing
          </span>
        )}
      </p>
      {notes && (
        <p
          className="mt-1 line-clamp-4 max-w-[70ch] text-[clamp(15px,1.75vw,23px)] leading-snug break-words whitespace-pre-line text-ink/85 [@media(max-height:480px)]:line-clamp-2"
          data-testid="stage-notes"
        >
          {notes}
        </p>
      )}
    </div>
  );
}

const MACROS_IN_A_ROW = 8;

export function Macros({ patch }: { patch: Patch }) {
  const views = useMemo(() => patch.macros.map((macro) => macroView(patch, macro)), [patch]);
  if (views.length === 0) return <LayersOfPatch patch={patch} large />;
  return (
    <div
      role="group"
      aria-label="Macros"
      className="grid min-h-0 flex-1 auto-rows-[minmax(40px,1fr)] gap-2.5 portrait:min-h-fit [grid-template-columns:repeat(var(--columns),minmax(0,var(--widest)))] max-sm:gap-1 max-sm:[grid-template-columns:repeat(var(--few),minmax(0,1fr))]"
      style={
        {
          '--columns': Math.min(views.length, MACROS_IN_A_ROW),
          '--few': Math.min(views.length, FEW),
          '--widest': views.length < FEW ? '260px' : '230px',
          // One or two are no cards as high as the page.
          maxHeight: views.length < FEW ? 'max(180px, 36vh)' : undefined,
        } as CSSProperties
      }
    >
      {views.map((view) => (
        <LiveMacro key={view.number} patch={patch} view={view} />
      ))}
    </div>
  );
}

function LiveMacro({ patch, view }: { patch: Patch; view: MacroView }) {
  const source = `macro.${view.number}`;
  const isMoved = patch.routes.some((route) => route.on && route.target === source);
  const read = useCallback(
    () => ({
      value: (isMoved ? sourceNow(source) : undefined) ?? session.liveOf(source) ?? 0,
      waits: session.hearing.bindings.waiting(source)?.at,
    }),
    [source, isMoved],
  );
  return (
    <StageMacro
      macro={view}
      read={read}
      onMove={(value) => session.moveLive(source, value)}
      onRest={() => session.play({ type: 'rest', kind: 'macro', number: view.number })}
    />
  );
}

/** Where there is room, what the patch is made of, and how loud each of it is. */
export function LayersOfPatch({ patch, large = false }: { patch: Patch; large?: boolean }) {
  const list = useRef<HTMLUListElement>(null);
  const layers = patch.layers.slice(0, MOST_LAYERS);
  useFrames(
    useCallback(() => {
      const { meters } = session.audio;
      const { program } = session;
      list.current?.querySelectorAll<HTMLElement>('[data-level]').forEach((bar, i) => {
        const at = program?.layers.findIndex(({ id }) => id === patch.layers[i]?.id) ?? -1;
        const level = at < 0 || at >= METERED_LAYERS || !session.meters.isPresent ? 0 : meters[METER.layers + at];
        bar.style.transform = `scaleX(${Math.max(0, 1 + (20 * Math.log10(level + 1e-9)) / 48).toFixed(3)})`;
      });
    }, [patch]),
  );
  return (
    <ul
      ref={list}
      aria-label="Layers"
      className={`grid min-h-0 flex-1 gap-1.5 overflow-hidden ${large && layers.length <= FEW ? 'auto-rows-[minmax(40px,110px)] text-[clamp(18px,2.6vw,38px)]' : 'auto-rows-[minmax(34px,72px)] text-[clamp(15px,1.7vw,24px)]'}`}
      style={{
        gridTemplateColumns: large && layers.length <= FEW ? '1fr' : 'repeat(auto-fill, minmax(min(100%, 240px), 1fr))',
      }}
    >
      {layers.map((layer) => (
        <li
          key={layer.id}
          className={`relative flex items-center gap-3 overflow-hidden rounded-xl px-3 ${layer.on ? '' : 'opacity-50'}`}
        >
          <span
            aria-hidden
            data-level
            className="absolute inset-0 origin-left"
            style={{
              transform: 'scaleX(0)',
              background: `color-mix(in srgb, ${colourOf(layer.mark)} 30%, transparent)`,
            }}
          />
          <Mark mark={layer.mark} size={large ? 26 : 20} />{' '}
          <span dir="auto" className="relative min-w-0 truncate">
            {layer.name}
          </span>
        </li>
      ))}
    </ul>
  );
}
const MOST_LAYERS = 14,
  FEW = 4;
