import { NumberBox } from '../../parts/NumberBox';
import { useRef, type PointerEvent } from 'react';
import { CC } from '../../../core/music/midi';
import { session } from '../../sound/session';
import { useAppDispatch, useAppSelector } from '../../document/store';
import { deskSlice } from '../../hands/deskSlice';
import { typing } from '../../hands/typingKeys';
import { useRefresh } from '../../parts/useLive';

const SMALL = 'button justify-center overflow-hidden px-0.5! py-px! text-[11.5px] max-[1100px]:text-[10.5px]';

/**
 * Stand-ins for a controller's wheels and pedals, so that everything can be tried without one. They follow the real
 * ones.
 */
export function Controls() {
  useRefresh(session.hands);
  useRefresh(typing);
  useRefresh(session.input.latch);
  const dispatch = useAppDispatch();
  const { typingPlays, standIns } = useAppSelector((state) => state.desk);
  const { controllers } = session.hands;
  const cc = (controller: number) => controllers.cc[controller];
  const send = (controller: number, value: number) =>
    session.play({ type: 'controller', channel: 1, controller, value });
  const { latch } = session.input;
  const sustained = cc(CC.sustain) >= 64;
  return (
    <div className="flex h-full gap-2 max-[1100px]:gap-1.5">
      <Lever
        label="wheel"
        low={0}
        high={127}
        value={cc(CC.wheel)}
        onMove={(value) => send(CC.wheel, Math.round(value))}
      />
      <Lever
        label="bend"
        low={-1}
        high={1}
        value={controllers.bend[0]}
        springs
        onMove={(value) => session.play({ type: 'bend', channel: 1, bend: value })}
      />
      <Lever
        label="expr."
        name="expression"
        low={0}
        high={127}
        value={cc(CC.expression)}
        onMove={(value) => send(CC.expression, Math.round(value))}
      />
      <div className="flex min-w-0 flex-1 flex-col justify-end gap-1">
        <label
          className="number flex items-center justify-between gap-1 text-[11.5px] text-faint"
          title="Velocity of the computer keyboard"
        >
          <span className="max-[1100px]:sr-only">vel.</span>
          <NumberBox
            label="Velocity of the computer keyboard"
            value={typing.velocity}
            low={1}
            high={127}
            className="w-[52px] text-ink max-[1100px]:w-full"
            onChange={(velocity) => typing.setVelocity(velocity)}
          />
        </label>
        <div className="grid grid-cols-2 gap-1">
          <button
            className={SMALL}
            aria-pressed={latch.holding}
            title="Hold: keys stay until they are struck again (H)"
            onClick={() => latch.setHolding(!latch.holding)}
          >
            hold
          </button>
          <button
            className={SMALL}
            aria-pressed={latch.repeating}
            title="Repeat: what is held is struck again, in time (R)"
            onClick={() => latch.setRepeating(!latch.repeating)}
          >
            repeat
          </button>
        </div>
        <div className="grid grid-cols-2 gap-1">
          <button
            className={SMALL}
            aria-pressed={sustained}
            title="The sustain pedal (CC 64)"
            onClick={() => send(CC.sustain, sustained ? 0 : 127)}
          >
            sustain
          </button>
          <select
            className="field px-0.5! text-[11.5px]"
            aria-label="Repeated every"
            title="How often held keys are struck again"
            value={latch.quarters}
            onChange={(event) => latch.setQuarters(Number(event.target.value))}
          >
            <option value={4}>1/1</option>
            <option value={2}>1/2</option>
            <option value={1}>1/4</option>
            <option value={0.5}>1/8</option>
          </select>
        </div>
        <div className="grid grid-cols-2 gap-1">
          <button
            className={SMALL}
            aria-pressed={standIns}
            title="More stand-ins: an expressive surface, faders and encoders, strike pads, pedals"
            onClick={() => dispatch(deskSlice.actions.standInsOpened(!standIns))}
          >
            more …
          </button>
          <button
            className={SMALL}
            aria-pressed={typingPlays}
            aria-label="type to play"
            title="The computer keyboard plays two octaves (P)"
            onClick={() => dispatch(deskSlice.actions.typingPlaysSet(!typingPlays))}
          >
            type
          </button>
        </div>
      </div>
    </div>
  );
}

interface LeverProps {
  label: string;
  name?: string;
  low: number;
  high: number;
  value: number;
  springs?: boolean;
  onMove: (value: number) => void;
}

/** A wheel or pedal seen from above: drag it up and down; a sprung one goes back when it is let go. */
function Lever({ label, name = label, low, high, value, springs, onMove }: LeverProps) {
  const box = useRef<HTMLDivElement>(null);
  const held = useRef(false);
  const share = (value - low) / (high - low);
  const follow = (event: PointerEvent) => {
    const { top, height } = box.current!.getBoundingClientRect();
    onMove(low + (high - low) * Math.min(1, Math.max(0, 1 - (event.clientY - top) / height)));
  };
  const letGo = () => {
    if (held.current && springs) onMove(0);
    held.current = false;
  };
  const step = (high - low) / 32;
  const shown = springs ? (value === 0 ? '0' : value.toFixed(2).replace('-', '−')) : String(Math.round(value));
  return (
    <div className="flex w-[26px] shrink-0 flex-col">
      <span className="text-[11.5px] whitespace-nowrap text-faint">{label}</span>
      <span className="number text-[11.5px] leading-tight">{shown}</span>
      <div
        ref={box}
        role="slider"
        tabIndex={0}
        aria-label={name}
        aria-valuemin={low}
        aria-valuemax={high}
        aria-valuenow={Math.round(value * 100) / 100}
        aria-orientation="vertical"
        className="relative mt-0.5 min-h-0 flex-1 touch-none overflow-hidden rounded-md border border-edge bg-sheet"
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          held.current = true;
          follow(event);
        }}
        onPointerMove={(event) => held.current && follow(event)}
        onPointerUp={letGo}
        onPointerCancel={letGo}
        onDoubleClick={() => onMove(name === 'expression' ? high : 0)}
        onKeyDown={(event) => {
          const by = step * (event.shiftKey ? 0.25 : 1);
          if (event.key === 'ArrowUp' || event.key === 'ArrowRight') onMove(Math.min(high, value + by));
          else if (event.key === 'ArrowDown' || event.key === 'ArrowLeft') onMove(Math.max(low, value - by));
          else if (event.key === 'Home') onMove(low);
          else if (event.key === 'End') onMove(high);
          else return;
          event.preventDefault();
          event.stopPropagation();
        }}
        onKeyUp={() => springs && onMove(0)}
      >
        <div
          className="absolute inset-x-0"
          style={
            springs
              ? {
                  bottom: `${Math.min(share, 0.5) * 100}%`,
                  height: `${Math.abs(share - 0.5) * 100}%`,
                  background: 'color-mix(in srgb, var(--teal) 35%, transparent)',
                }
              : { bottom: 0, height: `${share * 100}%`, background: 'color-mix(in srgb, var(--teal) 35%, transparent)' }
          }
        />
        <div
          className="absolute inset-x-0 h-[2px] bg-ink"
          style={{ bottom: `calc(${share * 100}% - ${share * 2}px)` }}
        />
      </div>
    </div>
  );
}
