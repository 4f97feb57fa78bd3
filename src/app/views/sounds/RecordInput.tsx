import { Circle, Square } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useEffect, useRef, useState } from 'react';
import { writeWav } from '../../../core/formats/wav';
import { audioInputs, STAND_IN_INPUT, type AudioInput } from '../../../host/audioInputs';
import { InputRecorder } from '../../../host/inputRecorder';
import { useFrames } from '../../parts/useLive';
import { notice, useAppDispatch } from '../../document/store';
import { tray } from '../../jobs/tray';

let recordings = 0;

/** Records an audio input straight to the tray. */
export function RecordInput() {
  const dispatch = useAppDispatch();
  const [inputs, setInputs] = useState<AudioInput[]>([STAND_IN_INPUT]);
  const [wanted, setWanted] = useState('');
  const [on, setOn] = useState(false);
  /** The browser is asked for the input, which may take as long as a question to the player. */
  const [waits, setWaits] = useState(false);
  const recorder = useRef<InputRecorder | null>(null);
  const meter = useRef<HTMLDivElement>(null);
  const time = useRef<HTMLSpanElement>(null);
  useEffect(
    () => () => {
      void recorder.current?.stop();
    },
    [],
  );
  useFrames(() => {
    const { current } = recorder;
    if (meter.current) meter.current.style.width = `${Math.min(100, (current?.level ?? 0) * 100)}%`;
    if (time.current) time.current.textContent = `${(current?.seconds ?? 0).toFixed(1)} s`;
  });
  const start = async () => {
    recorder.current ??= new InputRecorder();
    setWaits(true);
    try {
      await recorder.current.start(wanted);
      setOn(true);
      setInputs(await audioInputs());
    } catch (error) {
      dispatch(notice('problem', `Nothing is recorded: ${(error as Error).message}.`, 'record'));
    }
    setWaits(false);
  };
  const stop = async () => {
    const audio = await recorder.current!.stop();
    setOn(false);
    if (audio.data.length === 0) {
      dispatch(notice('problem', 'Nothing came in: nothing was recorded.', 'record'));
      return;
    }
    const bytes = writeWav(audio, { encoding: 'pcm24' });
    const name = `recording ${++recordings}.wav`;
    await tray.add([{ path: name, file: new File([bytes.slice()], name, { type: 'audio/wav' }) }]);
  };
  return (
    <Popover.Root
      onOpenChange={(open) => {
        if (open)
          void audioInputs().then((found) => {
            setInputs(found);
            setWanted((old) => (found.some(({ id }) => id === old) ? old : found[0].id));
          });
      }}
    >
      <Popover.Trigger className="button">
        <Circle size={12} fill="currentColor" className="text-alarm" /> Record …
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="top"
          align="end"
          sideOffset={8}
          collisionPadding={8}
          className="panel flex w-72 flex-col gap-2"
          aria-label="Record an input"
        >
          <h2 className="text-[14px] font-bold">Record an input</h2>
          <select
            className="field"
            aria-label="Input"
            value={wanted}
            disabled={on}
            onChange={(event) => setWanted(event.target.value)}
          >
            {inputs.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
          <div className="h-2 overflow-hidden rounded-full border border-edge bg-sheet">
            <div ref={meter} className="h-full bg-teal" />
          </div>
          <div className="flex items-center gap-2">
            {on ? (
              <button className="button font-semibold" onClick={() => void stop()}>
                <Square size={12} fill="currentColor" /> Stop, into the tray
              </button>
            ) : (
              <button className="button font-semibold" disabled={waits} onClick={() => void start()}>
                <Circle size={12} fill="currentColor" /> Record
              </button>
            )}
            <span ref={time} className="number ml-auto text-[12px]">
              0.0 s
            </span>
          </div>
          <p className="text-[12px] text-faint">
            What is recorded comes into the tray, and is placed from there like any file.
          </p>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
