import { useState } from 'react';
import { bytesAsText, monitorText, wordsOf } from '../../../host/monitor';
import { session } from '../../sound/session';
import { notice, useAppDispatch } from '../../document/store';
import { SheetFrame } from '../../parts/Sheet';
import { useRefresh } from '../../parts/useLive';

const SHOWN = 120;

/**
 * Every message as it comes: in words and bytes, by which port and channel, what it moved; and how far everything goes.
 */
export function MonitorSheet() {
  useRefresh(session.hearing.monitor);
  const dispatch = useAppDispatch();
  const { monitor } = session.hearing;
  const [port, setPort] = useState('');
  const [kind, setKind] = useState('');
  const [way, setWay] = useState('');
  const ports = [...new Set(monitor.lines.map((line) => line.port))];
  const isKind = (type: string) =>
    kind === ''
      ? true
      : kind === 'notes'
        ? type.startsWith('note')
        : kind === 'controllers'
          ? type === 'controller'
          : !type.startsWith('note') && type !== 'controller';
  const lines = monitor.lines
    .filter(
      (line) =>
        (port === '' || line.port === port) && (way === '' || line.way === way) && isKind(line.message?.type ?? ''),
    )
    .slice(-SHOWN)
    .reverse();
  const copy = () =>
    navigator.clipboard.writeText(monitorText(monitor.lines)).then(
      () => dispatch(notice('info', 'The list was copied as text.', 'copied')),
      () => dispatch(notice('problem', 'This browser does not let the list be copied.', 'copied')),
    );
  return (
    <SheetFrame title="Monitor" wide>
      <div className="mb-2 flex flex-wrap items-center gap-1.5">
        <select className="field" aria-label="Port" value={port} onChange={(event) => setPort(event.target.value)}>
          <option value="">all ports</option>
          {ports.map((name) => (
            <option key={name}>{name}</option>
          ))}
        </select>
        <select className="field" aria-label="Way" value={way} onChange={(event) => setWay(event.target.value)}>
          <option value="">in and out</option>
          <option value="in">what comes in</option>
          <option value="out">what goes out</option>
        </select>
        <select
          className="field"
          aria-label="Kind of message"
          value={kind}
          onChange={(event) => setKind(event.target.value)}
        >
          <option value="">all messages</option>
          <option value="notes">notes</option>
          <option value="controllers">controllers</option>
          <option value="other">bend, pressure, programs</option>
        </select>
        <button className="button" aria-pressed={monitor.held} onClick={() => monitor.hold(!monitor.held)}>
          hold
        </button>
        <button className="button" onClick={() => monitor.clear()}>
          clear
        </button>
        <button className="button" onClick={() => void copy()}>
          copy as text
        </button>
      </div>
      <div className="max-h-[52vh] overflow-y-auto [scrollbar-width:thin]" tabIndex={0} aria-label="Messages">
        {lines.length === 0 ? (
          <p className="text-faint">Nothing was heard yet: play a controller, or a stand-in.</p>
        ) : (
          <table className="w-full text-[12px]">
            <thead>
              <tr className="text-left text-faint">
                <th className="font-normal">message</th>
                <th className="font-normal">ch.</th>
                <th className="font-normal">bytes</th>
                <th className="font-normal">port</th>
                <th className="font-normal">moved</th>
              </tr>
            </thead>
            <tbody>
              {lines.map((line, i) => (
                <tr key={monitor.version - i} className="border-t border-line align-top">
                  <td className="pr-2">{wordsOf(line.message, line.bytes)}</td>
                  <td className="number pr-2">
                    {line.message && 'channel' in line.message ? line.message.channel : ''}
                  </td>
                  <td className="number pr-2 whitespace-nowrap">{bytesAsText(line.bytes)}</td>
                  <td className="pr-2">
                    <span className="text-faint">{line.way === 'out' ? 'to' : 'from'}</span> {line.port}
                  </td>
                  <td className="text-faint">{line.moved}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </div>
      {monitor.ranges.size > 0 && (
        <p className="mt-2 text-[12px] text-faint">
          Lowest and highest seen:{' '}
          {[...monitor.ranges].map(([name, { low, high }]) => `${name} ${low} … ${high}`).join(' · ')}
        </p>
      )}
    </SheetFrame>
  );
}
