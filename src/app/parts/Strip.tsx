import { useRef, useState, type ReactNode } from 'react';
import { fromNormal, toNormal, type Parameter } from '../../core/rig/parameters';
import { notice, useAppDispatch, useAppSelector } from '../document/store';
import { formatValue, readValue } from './format';

interface Props {
  parameter: Parameter;
  value: number;
  colour?: string;
  /** Where routes take it now, in the parameter's unit; undefined: nothing moves it. */
  moved?: number;
  movedBy?: string;
  /** `gesture` names a drag, whose changes are one step of undo. */
  onChange: (value: number, gesture?: string) => void;
  onEnd?: () => void;
  disabled?: boolean;
  /** What the strip says instead of the parameter's own label. */
  label?: string;
  /** The head of a table's column says what it is: only those who cannot see the head hear the label. */
  headed?: boolean;
  /** A source's connect sign was taken: the strip sets how far it moves this value, as a share of the range. */
  connect?: { depth: number; twoSided: boolean; onDepth: (depth: number, gesture?: string) => void };
  /** It plays and edits nothing: it works where edits are off. */
  plays?: boolean;
  /** The id of what it sets, by which it is found. */
  target?: string;
  /** What stands at the end of the strip, before the number. */
  menu?: ReactNode;
}

let gestures = 0;

/**
 * A value as a horizontal strip: drag, arrow keys (Shift for fine), double-click or Alt-click for the default, or type
 * the number.
 */
export function Strip({
  parameter,
  value,
  colour = 'var(--slate)',
  moved,
  movedBy,
  onChange,
  onEnd,
  disabled: off,
  label = parameter.label,
  headed,
  connect,
  menu,
  plays,
  target,
}: Props) {
  const dispatch = useAppDispatch();
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const disabled = off || (readOnly && !plays);
  const [typing, setTyping] = useState<string | null>(null);
  const [wrong, setWrong] = useState(false);
  const slider = useRef<HTMLDivElement>(null);
  const drag = useRef<{ x: number; normal: number; gesture: string; moved: boolean; depth: number } | null>(null);
  const normal = toNormal(parameter, value);
  const help = `${parameter.help}${movedBy ? ` Moved by ${movedBy}.` : ''}`;
  const nudge = (by: number) => onChange(roundFor(parameter, fromNormal(parameter, normal + by)));
  const movedNormal = moved === undefined ? undefined : toNormal(parameter, moved);
  /** Takes what was typed; what cannot be read or is out of range is said, and the value stays. */
  const commit = (stays: boolean) => {
    const read = typing === null || typing.trim() === '' ? undefined : readValue(parameter, typing);
    if (typeof read === 'string') {
      dispatch(notice('info', `${parameter.label}: “${typing}” was not taken, it wants ${read}.`, 'typed'));
      setWrong(true);
      if (stays) return;
    } else if (read !== undefined) onChange(read);
    setWrong(false);
    setTyping(null);
    if (stays) slider.current?.focus();
  };
  return (
    <div
      data-target={target}
      data-strip
      className={`flex h-[24px] min-h-[24px] overflow-hidden rounded-[5px] border bg-sheet text-[12px] select-none ${connect ? 'border-indigo ring-2 ring-indigo/40' : 'border-edge'}`}
      title={connect ? `Drag to set how far it moves ${label}; to the left it goes down.` : help}
    >
      <div
        className="@container relative min-w-0 flex-1 touch-none overflow-hidden border-r border-line focus-visible:outline-offset-[-2px]"
        ref={slider}
        role="slider"
        tabIndex={disabled ? -1 : 0}
        aria-label={label}
        aria-valuemin={parameter.low}
        aria-valuemax={parameter.high}
        aria-valuenow={Number(value.toPrecision(6))}
        aria-valuetext={formatValue(parameter, value)}
        aria-disabled={disabled}
        data-connecting={connect ? '' : undefined}
        data-plays={plays || undefined}
        onPointerDown={(event) => {
          if (disabled || typing !== null || event.button !== 0) return;
          if (event.altKey && !connect) {
            onChange(parameter.default);
            return;
          }
          event.currentTarget.setPointerCapture(event.pointerId);
          drag.current = {
            x: event.clientX,
            normal,
            gesture: `strip ${parameter.id} ${++gestures}`,
            moved: false,
            depth: connect?.depth ?? 0,
          };
        }}
        onPointerMove={(event) => {
          const { current } = drag;
          if (!current) return;
          const by = (event.clientX - current.x) / event.currentTarget.clientWidth;
          if (!current.moved && Math.abs(event.clientX - current.x) < 3) return;
          current.moved = true;
          if (connect) {
            connect.onDepth(
              Math.round(Math.min(1, Math.max(-1, current.depth + by * (event.shiftKey ? 0.1 : 1))) * 1000) / 1000,
              current.gesture,
            );
            return;
          }
          onChange(
            roundFor(parameter, fromNormal(parameter, current.normal + by * (event.shiftKey ? 0.1 : 1))),
            current.gesture,
          );
        }}
        onPointerUp={() => {
          drag.current = null;
          onEnd?.();
        }}
        onPointerCancel={() => {
          drag.current = null;
          onEnd?.();
        }}
        onDoubleClick={() => {
          if (!disabled && !connect) onChange(parameter.default);
        }}
        onKeyDown={(event) => {
          if (disabled || typing !== null) return;
          const step = parameter.law === 'steps' ? 1 / (parameter.high - parameter.low) : event.shiftKey ? 0.001 : 0.02;
          if (connect && /^Arrow|^(Delete|Backspace|Home|End)$/.test(event.key)) {
            const to =
              {
                ArrowRight: connect.depth + 0.02,
                ArrowUp: connect.depth + 0.02,
                ArrowLeft: connect.depth - 0.02,
                ArrowDown: connect.depth - 0.02,
                Home: -1,
                End: 1,
              }[event.key] ?? 0;
            connect.onDepth(Math.round(Math.min(1, Math.max(-1, to)) * 1000) / 1000);
            event.preventDefault();
            event.stopPropagation();
            return;
          }
          if (event.key === 'ArrowRight' || event.key === 'ArrowUp') nudge(step);
          else if (event.key === 'ArrowLeft' || event.key === 'ArrowDown') nudge(-step);
          else if (event.key === 'Home') onChange(parameter.low);
          else if (event.key === 'End') onChange(parameter.high);
          else if (event.key === 'Delete' || event.key === 'Backspace') onChange(parameter.default);
          else if (event.key === 'Enter' || /^[\d.−-]$/.test(event.key))
            setTyping(event.key === 'Enter' ? '' : event.key);
          else return;
          event.preventDefault();
          event.stopPropagation();
        }}
      >
        {/* The mark and the reach lie under the words: nothing is drawn through a letter. */}
        <div className="absolute inset-x-0 bottom-0 h-[6px] border-t border-line">
          <div
            className="absolute inset-y-0 left-0"
            style={{
              width: `${normal * 100}%`,
              background: `color-mix(in srgb, ${colour} 38%, transparent)`,
              borderRight: `3px solid ${colour}`,
            }}
          />
          {movedNormal !== undefined && (
            <div
              className="absolute inset-y-0"
              style={{
                left: `${Math.min(normal, movedNormal) * 100}%`,
                width: `${Math.abs(movedNormal - normal) * 100}%`,
                background: `repeating-linear-gradient(45deg, color-mix(in srgb, ${colour} 80%, transparent) 0 1.5px, transparent 1.5px 4px)`,
              }}
            />
          )}
          {connect && <Reach normal={normal} depth={connect.depth} twoSided={connect.twoSided} />}
        </div>
        <span aria-hidden className="pointer-events-none relative flex gap-1 px-1.5 leading-[17px]">
          <span className="min-w-0 flex-1 truncate">
            {headed ? '' : label}
            {connect && connect.depth !== 0
              ? ` ${connect.depth > 0 ? '+' : '−'}${Math.round(Math.abs(connect.depth) * 100)} %`
              : ''}
          </span>
          {/* Where it is now, beside where it rests: where there is room for both. */}
          {moved !== undefined && formatValue(parameter, moved) !== formatValue(parameter, value) && (
            <span className="number hidden shrink-0 text-[11px] text-faint @min-[165px]:inline">
              now {formatValue(parameter, moved)}
            </span>
          )}
        </span>
      </div>
      {menu}
      <div className={`flex ${widthFor(parameter)} shrink-0 items-center justify-end px-1.5`}>
        {typing === null && parameter.steps ? (
          <StepChoice parameter={parameter} value={value} label={label} disabled={disabled} onChange={onChange} />
        ) : typing === null ? (
          <button
            tabIndex={-1}
            className="number w-full cursor-text text-right whitespace-nowrap"
            disabled={disabled}
            aria-label={`${formatValue(parameter, value)}: type another ${label}`}
            onClick={() => setTyping('')}
          >
            {formatValue(parameter, value)}
          </button>
        ) : (
          <input
            autoFocus
            className="number w-full bg-sheet text-right outline-none"
            value={typing}
            placeholder={formatValue(parameter, value)}
            aria-label={`${label}, new value`}
            onChange={(event) => setTyping(event.target.value)}
            onBlur={() => {
              if (typing !== null) commit(false);
            }}
            aria-invalid={wrong}
            onKeyDown={(event) => {
              event.stopPropagation();
              if (event.key === 'Enter') commit(true);
              else if (event.key === 'Escape') {
                setWrong(false);
                setTyping(null);
                slider.current?.focus();
              }
            }}
          />
        )}
      </div>
    </div>
  );
}

/** A value that names one of several is chosen by its name. */
function StepChoice({
  parameter,
  value,
  label,
  disabled,
  onChange,
}: Pick<Props, 'parameter' | 'value' | 'label' | 'disabled' | 'onChange'>) {
  const at = Math.round(value);
  return (
    <select
      className="w-full min-w-0 cursor-pointer bg-sheet text-right outline-none"
      tabIndex={-1}
      disabled={disabled}
      aria-label={`${label}: choose`}
      value={at}
      onChange={(event) => onChange(Number(event.target.value))}
    >
      {parameter.steps!.map((name, i) => (
        <option key={name} value={parameter.low + i}>
          {name}
        </option>
      ))}
    </select>
  );
}

/** What a source covers of a strip. */
const Reach = ({ normal, depth, twoSided }: { normal: number; depth: number; twoSided: boolean }) => {
  const low = Math.max(0, Math.min(normal, normal + depth, twoSided ? normal - depth : normal));
  const high = Math.min(1, Math.max(normal, normal + depth, twoSided ? normal - depth : normal));
  return (
    <div
      className="absolute inset-y-0 border-x-2 border-indigo bg-indigo/25"
      style={{ left: `${low * 100}%`, width: `${(high - low) * 100}%` }}
    />
  );
};

/** Room for the longest that is said of a value. */
const widthFor = ({ steps = [] }: Parameter): string => {
  const longest = Math.max(0, ...steps.map((name) => name.length));
  return longest > 12 ? 'w-[136px]' : longest > 8 ? 'w-[118px]' : longest > 0 ? 'w-[88px]' : 'w-[74px]';
};

/** Steps that a hand means: tenths of a dB, whole cents, three figures of a time or a frequency. */
function roundFor({ unit, law }: Parameter, value: number): number {
  if (law === 'steps') return Math.round(value);
  if (unit === 'dB') return Math.round(value * 10) / 10;
  if (unit === 'cents' || unit === '%' || unit === 'semitones') return Math.round(value);
  if (law === 'log') return Number(value.toPrecision(3));
  return Math.round(value * 100) / 100;
}
