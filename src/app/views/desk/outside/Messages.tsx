import { ArrowDown, ArrowUp, X } from 'lucide-react';
import { bytesOfText } from '../../../../core/music/outside';
import { newMessage } from '../../../../core/rig/defaults';
import type { Message } from '../../../../core/rig/schema';
import { NumberField } from '../../../parts/NumberField';
import { TextBox } from '../../../parts/TextBox';
import { LONGEST_PAUSE, MESSAGE_KINDS, MOST_MESSAGES } from '../../../../core/rig/limits';

export const KIND_WORDS: Record<Message['kind'], string> = {
  program: 'program',
  controller: 'CC',
  nrpn: 'NRPN',
  notesOff: 'notes off',
  bytes: 'bytes',
};

interface Props {
  when: 'enter' | 'leave';
  patchName: string;
  messages: readonly Message[];
  onChange: (messages: readonly Message[]) => void;
}

/** What an instrument is told, in order, when a patch is entered or left. */
export function Messages({ when, patchName, messages, onChange }: Props) {
  const title = `${when === 'enter' ? 'On entering' : 'On leaving'} “${patchName}”`;
  const put = (n: number, change: Partial<Message>) =>
    onChange(messages.map((each, i) => (i === n ? { ...each, ...change } : each)));
  const swap = (n: number, by: -1 | 1) => {
    const next = [...messages];
    [next[n], next[n + by]] = [next[n + by], next[n]];
    onChange(next);
  };
  return (
    <section aria-label={title} className="border-t border-line pt-2">
      <h3 className="heading mb-1 truncate">{title}</h3>
      <ol className="flex flex-col gap-1">
        {messages.map((message, n) => (
          <li key={n} className="flex flex-wrap items-center gap-1.5" aria-label={`Message ${n + 1}`}>
            <span className="w-16 shrink-0 text-[13px]">{KIND_WORDS[message.kind]}</span>
            <Fields message={message} onChange={(change) => put(n, change)} />
            <span className="ml-auto w-32">
              <NumberField
                label="then wait"
                value={message.pause}
                low={0}
                high={LONGEST_PAUSE}
                unit=" ms"
                onChange={(pause) => put(n, { pause })}
              />
            </span>
            <button
              className="button-bare"
              aria-label={`Message ${n + 1} earlier`}
              disabled={n === 0}
              onClick={() => swap(n, -1)}
            >
              <ArrowUp size={14} />
            </button>
            <button
              className="button-bare"
              aria-label={`Message ${n + 1} later`}
              disabled={n === messages.length - 1}
              onClick={() => swap(n, 1)}
            >
              <ArrowDown size={14} />
            </button>
            <button
              className="button-bare"
              aria-label={`Remove message ${n + 1}`}
              onClick={() => onChange(messages.filter((_, i) => i !== n))}
            >
              <X size={14} />
            </button>
          </li>
        ))}
      </ol>
      {messages.length < MOST_MESSAGES && (
        <select
          className="field mt-1"
          aria-label={`Add a message: ${title}`}
          value=""
          onChange={(event) => {
            if (event.target.value) onChange([...messages, newMessage(event.target.value as Message['kind'])]);
          }}
        >
          <option value="">+ message …</option>
          {MESSAGE_KINDS.map((kind) => (
            <option key={kind} value={kind}>
              {KIND_WORDS[kind]}
            </option>
          ))}
        </select>
      )}
    </section>
  );
}

function Fields({ message, onChange }: { message: Message; onChange: (change: Partial<Message>) => void }) {
  const { kind, number, value, bytes } = message;
  const field = (label: string, shown: number, low: number, high: number, put: (to: number) => void) => (
    <span className="w-28">
      <NumberField label={label} value={shown} low={low} high={high} onChange={put} />
    </span>
  );
  switch (kind) {
    case 'program':
      return (
        <>
          {field('number', number + 1, 1, 128, (to) => onChange({ number: to - 1 }))}
          <label className="flex items-center gap-1 text-[13px]">
            <input
              type="checkbox"
              checked={value >= 0}
              onChange={(event) => onChange({ value: event.target.checked ? 0 : -1 })}
            />
            with a bank
          </label>
          {value >= 0 && field('bank', value, 0, 16383, (to) => onChange({ value: to }))}
        </>
      );
    case 'controller':
      return (
        <>
          {field('number', number, 0, 127, (to) => onChange({ number: to }))}
          {field('value', value, 0, 127, (to) => onChange({ value: to }))}
        </>
      );
    case 'nrpn':
      return (
        <>
          {field('number', number, 0, 16383, (to) => onChange({ number: to }))}
          {field('value', value, 0, 16383, (to) => onChange({ value: to }))}
        </>
      );
    case 'bytes':
      return (
        <TextBox
          label="Bytes, two hexadecimal digits each"
          className="min-w-40 flex-1"
          text={bytes}
          longest={800}
          placeholder="F0 7D 01 F7"
          check={(typed) => {
            const found = bytesOfText(typed);
            return 'problem' in found ? found.problem : undefined;
          }}
          onChange={(to) => onChange({ bytes: to })}
        />
      );
    case 'notesOff':
      return <span className="flex-1 text-[12.5px] text-faint">ends what sounds there</span>;
  }
}
