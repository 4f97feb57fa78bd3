import { X } from 'lucide-react';
import { useEffect, useRef, useState, type PointerEvent } from 'react';
import { bendTo14Bit } from '../../../core/music/midi';
import { nameOfKey } from '../../../core/music/noteNames';
import { Port } from '../../../host/midiInput';
import { session } from '../../sound/session';
import { store, useAppDispatch } from '../../document/store';
import { deskSlice } from '../../hands/deskSlice';

const KINDS = ['Surface', 'Box', 'Pads', 'Pedals'] as const;
type Kind = (typeof KINDS)[number];
/** Each stand-in is a port of its own and speaks the bytes that hardware would. */
const ports = new Map(
  KINDS.map((name) => [name, new Port(name, (message, port, bytes) => session.hearing.receive(message, port, bytes))]),
);
const say = (kind: Kind, ...bytes: number[]) => {
  void session.audio.start();
  ports.get(kind)!.take(bytes);
};

/** Controllers that ship with the product, in a drawer that any view can open. */
export function StandIns() {
  const dispatch = useAppDispatch();
  const [kind, setKind] = useState<Kind>('Box');
  useEffect(() => {
    const escape = (event: KeyboardEvent) => {
      if (event.key === 'Escape' && !event.defaultPrevented && store.getState().desk.sheet === null)
        dispatch(deskSlice.actions.standInsOpened(false));
    };
    document.addEventListener('keydown', escape);
    return () => document.removeEventListener('keydown', escape);
  }, [dispatch]);
  return (
    <section
      aria-label="Stand-ins"
      className="fixed inset-x-0 bottom-[160px] z-30 flex h-[190px] flex-col border-t-[1.5px] border-ink bg-paper shadow-[0_-6px_20px_rgb(0_0_0/14%)]"
    >
      <div className="flex items-center gap-1.5 border-b border-line px-3 py-1">
        <h2 className="heading mr-2">Stand-ins</h2>
        {KINDS.map((each) => (
          <button
            key={each}
            className="button px-2! py-0! text-[12px]"
            aria-pressed={each === kind}
            onClick={() => setKind(each)}
          >
            {NAMES[each]}
          </button>
        ))}
        <button
          className="button-bare ml-auto"
          aria-label="Close the stand-ins"
          onClick={() => dispatch(deskSlice.actions.standInsOpened(false))}
        >
          <X size={15} />
        </button>
      </div>
      <div className="min-h-0 flex-1 overflow-auto p-2.5">
        {kind === 'Box' ? <Box /> : kind === 'Pads' ? <StrikePads /> : kind === 'Pedals' ? <Pedals /> : <Surface />}
      </div>
    </section>
  );
}
const NAMES: Record<Kind, string> = {
  Surface: 'expressive surface',
  Box: 'faders, encoders, buttons',
  Pads: 'strike pads',
  Pedals: 'pedals',
};

/** Values that stay where they were put while the drawer is shut. */
const faders = new Array<number>(8).fill(0);
const FADER_CC = 20,
  ENCODER_CC = 40,
  BUTTON_NOTE = 100;

/**
 * Eight faders (CC 20 … 27), eight encoders (CC 40 … 47, two's complement) and eight buttons (notes 100 … 107, channel
 * 16).
 */
function Box() {
  const [values, setValues] = useState([...faders]);
  const put = (i: number, value: number) => {
    const next = Math.min(127, Math.max(0, Math.round(value)));
    if (next === faders[i]) return;
    faders[i] = next;
    setValues([...faders]);
    say('Box', 0xbf, FADER_CC + i, next);
  };
  return (
    <div className="grid h-full grid-cols-8 gap-3">
      {values.map((value, i) => (
        <div key={i} className="grid min-w-0 grid-cols-[34px_minmax(0,1fr)] gap-2">
          <Fader label={`fader ${i + 1}`} value={value} onMove={(to) => put(i, to)} />
          <div className="flex min-w-0 flex-col justify-between gap-1">
            <div className="flex items-center gap-0.5">
              <button
                className="button px-2! py-0.5!"
                aria-label={`encoder ${i + 1} down`}
                onClick={() => say('Box', 0xbf, ENCODER_CC + i, 127)}
              >
                −
              </button>
              <button
                className="button px-2! py-0.5!"
                aria-label={`encoder ${i + 1} up`}
                onClick={() => say('Box', 0xbf, ENCODER_CC + i, 1)}
              >
                +
              </button>
            </div>
            <span className="text-[11px] text-faint">
              fader {i + 1} · CC {FADER_CC + i}
              <br />
              encoder {i + 1} · CC {ENCODER_CC + i}
            </span>
            <Pressed
              label={`button ${i + 1}`}
              className="button justify-center"
              onPress={() => say('Box', 0x9f, BUTTON_NOTE + i, 127)}
              onLift={() => say('Box', 0x8f, BUTTON_NOTE + i, 0)}
            >
              button {i + 1}
            </Pressed>
          </div>
        </div>
      ))}
    </div>
  );
}

function Fader({ label, value, onMove }: { label: string; value: number; onMove: (value: number) => void }) {
  const box = useRef<HTMLDivElement>(null);
  const held = useRef(false);
  const follow = (event: PointerEvent) => {
    const { top, height } = box.current!.getBoundingClientRect();
    onMove(127 * (1 - (event.clientY - top) / height));
  };
  return (
    <div
      ref={box}
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-orientation="vertical"
      aria-valuemin={0}
      aria-valuemax={127}
      aria-valuenow={value}
      className="relative h-full touch-none overflow-hidden rounded-md border border-edge bg-sheet"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        held.current = true;
        follow(event);
      }}
      onPointerMove={(event) => {
        if (held.current) follow(event);
      }}
      onPointerUp={() => {
        held.current = false;
      }}
      onKeyDown={(event) => {
        const by = { ArrowUp: 4, ArrowRight: 4, ArrowDown: -4, ArrowLeft: -4, Home: -127, End: 127 }[event.key];
        if (by === undefined) return;
        event.preventDefault();
        event.stopPropagation();
        onMove(value + (event.shiftKey ? Math.sign(by) : by));
      }}
    >
      <div className="absolute inset-x-0 bottom-0 bg-teal/30" style={{ height: `${(value / 127) * 100}%` }} />
      <div
        className="absolute inset-x-0 h-[3px] bg-ink"
        style={{ bottom: `calc(${(value / 127) * 100}% - ${(value / 127) * 3}px)` }}
      />
      <span className="number absolute inset-x-0 top-1 text-center text-[11px]">{value}</span>
    </div>
  );
}

function Pressed({
  label,
  className,
  children,
  onPress,
  onLift,
}: {
  label: string;
  className: string;
  children: React.ReactNode;
  onPress: (event: { y: number }) => void;
  onLift: () => void;
}) {
  const [down, setDown] = useState(false);
  const press = (y: number) => {
    if (!down) {
      setDown(true);
      onPress({ y });
    }
  };
  const lift = () => {
    if (down) {
      setDown(false);
      onLift();
    }
  };
  return (
    <button
      className={className}
      aria-label={label}
      aria-pressed={down}
      style={{ touchAction: 'none' }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        const { top, height } = event.currentTarget.getBoundingClientRect();
        press((event.clientY - top) / height);
      }}
      onPointerUp={lift}
      onPointerCancel={lift}
      onKeyDown={(event) => {
        if ((event.key === 'Enter' || event.key === ' ') && !event.repeat) {
          event.preventDefault();
          event.stopPropagation();
          press(0.7);
        }
      }}
      onKeyUp={lift}
      onBlur={lift}
    >
      {children}
    </button>
  );
}

/** Sixteen strike pads (notes 36 … 51, channel 10); lower on a pad is harder. */
function StrikePads() {
  return (
    <div className="grid h-full grid-cols-8 grid-rows-2 gap-2">
      {Array.from({ length: 16 }, (_, i) => 36 + i).map((key) => (
        <Pressed
          key={key}
          label={`strike pad ${nameOfKey(key)}`}
          className="rounded-lg border border-edge bg-sheet text-[12px] text-faint active:bg-teal/30 aria-pressed:bg-teal/30"
          onPress={({ y }) => say('Pads', 0x99, key, Math.min(127, Math.max(12, Math.round(20 + 107 * y))))}
          onLift={() => say('Pads', 0x89, key, 64)}
        >
          {nameOfKey(key)}
        </Pressed>
      ))}
    </div>
  );
}

/** Three pedals: sustain (CC 64), sostenuto (CC 66) and a continuous one (CC 11). */
function Pedals() {
  const [foot, setFoot] = useState(127);
  return (
    <div className="grid h-full grid-cols-3 gap-6">
      {[
        [64, 'sustain'],
        [66, 'sostenuto'],
      ].map(([cc, name]) => (
        <Pressed
          key={cc}
          label={`${name} pedal`}
          className="rounded-lg border border-edge bg-sheet text-[13px] aria-pressed:bg-teal/30"
          onPress={() => say('Pedals', 0xb0, Number(cc), 127)}
          onLift={() => say('Pedals', 0xb0, Number(cc), 0)}
        >
          {name} (CC {cc}): press and hold
        </Pressed>
      ))}
      <Fader
        label="expression pedal"
        value={foot}
        onMove={(value) => {
          const to = Math.min(127, Math.max(0, Math.round(value)));
          setFoot(to);
          say('Pedals', 0xb0, 11, to);
        }}
      />
    </div>
  );
}

const LOWEST = 36,
  KEYS = 36;
let announced = false;
/**
 * A field of strips: each finger has a channel of its own (MPE lower zone): x is pitch with slides, y is slide (CC 74),
 * and speed or the pen's pressure is pressure.
 */
function Surface() {
  const box = useRef<HTMLDivElement>(null);
  const fingers = useRef(
    new Map<number, { channel: number; key: number; x: number; y: number; at: number; pressure: number }>(),
  );
  const [shown, setShown] = useState<{ x: number; y: number; pressure: number }[]>([]);
  const place = (event: PointerEvent) => {
    const { left, top, width, height } = box.current!.getBoundingClientRect();
    return {
      x: Math.min(1, Math.max(0, (event.clientX - left) / width)),
      y: Math.min(1, Math.max(0, 1 - (event.clientY - top) / height)),
    };
  };
  const show = () => setShown([...fingers.current.values()].map(({ x, y, pressure }) => ({ x, y, pressure })));
  const keyAt = (x: number) => LOWEST + x * KEYS - 0.5;
  const bend = (channel: number, semitones: number) => {
    const value = bendTo14Bit(Math.min(1, Math.max(-1, semitones / 48)));
    say('Surface', 0xe0 + channel - 1, value & 127, value >> 7);
  };
  const press = (event: PointerEvent) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    const { x, y } = place(event);
    const used = new Set([...fingers.current.values()].map((finger) => finger.channel));
    const channel = Array.from({ length: 15 }, (_, i) => i + 2).find((each) => !used.has(each));
    if (!channel) return;
    const key = Math.round(keyAt(x));
    if (!announced) {
      // MPE Configuration Message: fifteen members of the lower zone.
      announced = true;
      for (const [controller, value] of [
        [101, 0],
        [100, 6],
        [6, 15],
        [101, 127],
        [100, 127],
      ])
        say('Surface', 0xb0, controller, value);
    }
    const pressure = event.pointerType === 'pen' ? event.pressure : 0;
    fingers.current.set(event.pointerId, { channel, key, x, y, at: performance.now(), pressure });
    // Everything that a finger is, before its note begins (MPE 1.0).
    bend(channel, keyAt(x) - key);
    say('Surface', 0xb0 + channel - 1, 74, Math.round(y * 127));
    say('Surface', 0xd0 + channel - 1, Math.round(pressure * 127));
    say('Surface', 0x90 + channel - 1, key, Math.round(60 + 60 * y));
    show();
  };
  const follow = (event: PointerEvent) => {
    const finger = fingers.current.get(event.pointerId);
    if (!finger) return;
    const { x, y } = place(event);
    const now = performance.now();
    const speed = Math.hypot(x - finger.x, y - finger.y) / Math.max(1, now - finger.at);
    finger.pressure = event.pointerType === 'pen' ? event.pressure : Math.min(1, finger.pressure * 0.85 + speed * 60);
    Object.assign(finger, { x, y, at: now });
    bend(finger.channel, keyAt(x) - finger.key);
    say('Surface', 0xb0 + finger.channel - 1, 74, Math.round(y * 127));
    say('Surface', 0xd0 + finger.channel - 1, Math.round(finger.pressure * 127));
    show();
  };
  const lift = (event: PointerEvent) => {
    const finger = fingers.current.get(event.pointerId);
    if (!finger) return;
    fingers.current.delete(event.pointerId);
    say('Surface', 0x80 + finger.channel - 1, finger.key, 64);
    say('Surface', 0xd0 + finger.channel - 1, 0);
    show();
  };
  return (
    <div
      ref={box}
      role="application"
      aria-label="Expressive surface: a finger’s place is its pitch, up and down its slide, its speed its pressure"
      data-testid="surface"
      className="relative h-full touch-none overflow-hidden rounded-lg border border-edge bg-sheet"
      onPointerDown={press}
      onPointerMove={follow}
      onPointerUp={lift}
      onPointerCancel={lift}
    >
      {Array.from({ length: KEYS }, (_, i) => (
        <div
          key={i}
          className={`absolute inset-y-0 border-r border-line ${[1, 3, 6, 8, 10].includes((LOWEST + i) % 12) ? 'bg-ink/10' : ''}`}
          style={{ left: `${(i / KEYS) * 100}%`, width: `${100 / KEYS}%` }}
        >
          {(LOWEST + i) % 12 === 0 && (
            <span className="absolute bottom-0.5 left-0.5 text-[10px] text-faint">{nameOfKey(LOWEST + i)}</span>
          )}
        </div>
      ))}
      {shown.map((finger, i) => (
        <div
          key={i}
          className="pointer-events-none absolute -translate-1/2 rounded-full border-2 border-teal bg-teal/30"
          style={{
            left: `${finger.x * 100}%`,
            top: `${(1 - finger.y) * 100}%`,
            width: 18 + 26 * finger.pressure,
            height: 18 + 26 * finger.pressure,
          }}
        />
      ))}
    </div>
  );
}
