import { useAppDispatch } from '../../document/store';
import { deskSlice } from '../../hands/deskSlice';
import { SheetFrame } from '../../parts/Sheet';
import { MIX_KEYS, PLAYING_KEYS, SHORTCUTS, SOUNDS_KEYS, STAGE_KEYS, type Shortcut } from '../../hands/shortcuts';

/** Every shortcut, and how strips are moved. */
export function HelpSheet() {
  const dispatch = useAppDispatch();
  return (
    <SheetFrame title="Shortcuts">
      <p className="mb-3">
        <button className="button" onClick={() => dispatch(deskSlice.actions.sheetOpened('handbook'))}>
          Handbook: the whole job, step by step
        </button>{' '}
        <a className="ml-2 underline" href="/licences.txt" target="_blank" rel="noreferrer">
          licences of what it is built with
        </a>
      </p>
      <ShortcutList shortcuts={SHORTCUTS} />
      <h3 className="heading mt-3 mb-1">In the Sounds view</h3>
      <ShortcutList shortcuts={SOUNDS_KEYS} />
      <h3 className="heading mt-3 mb-1">On Stage</h3>
      <ShortcutList shortcuts={STAGE_KEYS} />
      <h3 className="heading mt-3 mb-1">In the Mix view</h3>
      <ShortcutList shortcuts={MIX_KEYS} />
      <h3 className="heading mt-3 mb-1">While the computer keyboard plays</h3>
      <ShortcutList shortcuts={PLAYING_KEYS} />
      <h3 className="heading mt-3 mb-1">Strips</h3>
      <p>
        Drag, or arrow keys (Shift for fine). Double-click, Alt-click or Delete for the default. Click the number, or
        type, for an exact value.
      </p>
      <h3 className="heading mt-3 mb-1">Buttons</h3>
      <p>
        Enter presses the button that has the focus, and so does Space where the focus came there by keyboard; after a
        click, and everywhere else, Space belongs to the take, unless you are writing.
      </p>
    </SheetFrame>
  );
}

const ShortcutList = ({ shortcuts }: { shortcuts: readonly Shortcut[] }) => (
  <dl className="grid grid-cols-[130px_1fr] gap-x-3 gap-y-0.5">
    {shortcuts.map(({ keys, does }) => [
      <dt key={keys} className="number text-[12px]">
        {keys}
      </dt>,
      <dd key={does}>{does}</dd>,
    ])}
  </dl>
);
