import { X } from 'lucide-react';
import { nameOfKey, parseKey, type MiddleC } from '../../core/music/noteNames';
import { edit, useAppDispatch, useAppSelector } from '../state/store';
import { uiSlice, type Theme } from '../state/uiSlice';
import { TypedField } from './TypedField';
import { PLAYING_KEYS, SHORTCUTS, SOUNDS_KEYS, type Shortcut } from './useShortcuts';

/** Shortcuts and settings in one sheet beside the view; it takes nothing away, so that playing goes on. */
export function HelpSheet({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const dispatch = useAppDispatch();
  const { middleC, theme } = useAppSelector((state) => state.ui);
  if (!open) return null;
  return (
    <section role="dialog" aria-label="Shortcuts and settings" className="panel fixed top-14 right-4 max-h-[80vh] w-[400px] overflow-y-auto">
      <div className="mb-2 flex items-center justify-between">
        <h2 className="text-[15px] font-bold">Shortcuts and settings</h2>
        <button className="button-bare" aria-label="Close" onClick={() => onOpenChange(false)}><X size={16} /></button>
      </div>
      <ShortcutList shortcuts={SHORTCUTS} />
      <h3 className="heading mt-3 mb-1">In the Sounds view</h3>
      <ShortcutList shortcuts={SOUNDS_KEYS} />
      <h3 className="heading mt-3 mb-1">While the computer keyboard plays</h3>
      <ShortcutList shortcuts={PLAYING_KEYS} />
      <h3 className="heading mt-3 mb-1">Strips</h3>
      <p>Drag, or arrow keys (Shift for fine). Double-click or Alt-click for the default. Click the number, or type, for an exact value.</p>
      <h3 className="heading mt-3 mb-1">Settings</h3>
      <label className="flex items-center justify-between py-1">Middle C (key 60) is called
        <select className="field" value={middleC} onChange={(event) => dispatch(uiSlice.actions.middleCChosen(Number(event.target.value) as MiddleC))}>
          {[3, 4, 5].map((octave) => <option key={octave} value={octave}>C{octave}</option>)}
        </select>
      </label>
      <div className="flex items-center justify-between gap-2 py-1"><span>The controller goes from</span>
        <span className="flex w-44 gap-1.5"><ControllerKey which="keyLow" label="lowest key of the controller" /><ControllerKey which="keyHigh" label="highest key of the controller" /></span>
      </div>
      <label className="flex items-center justify-between py-1">Theme
        <select className="field" value={theme} onChange={(event) => dispatch(uiSlice.actions.themeChosen(event.target.value as Theme))}>
          <option value="chart">Chart</option>
          <option value="night">Night</option>
        </select>
      </label>
    </section>
  );
}

/** An end of the controller's keyboard: effects are laid out from its lowest key, and formulas scale by both. */
function ControllerKey({ which, label }: { which: 'keyLow' | 'keyHigh'; label: string }) {
  const dispatch = useAppDispatch();
  const middleC = useAppSelector((state) => state.ui.middleC);
  const controllers = useAppSelector((state) => state.rig.rig!.controllers);
  return (
    <TypedField hideLabel label={label} text={nameOfKey(controllers[which], middleC)} commit={(typed) => {
      const key = parseKey(typed, middleC);
      const other = which === 'keyLow' ? controllers.keyHigh : controllers.keyLow;
      if (key === undefined || (which === 'keyLow' ? key >= other : key <= other)) return `a key ${which === 'keyLow' ? 'below' : 'above'} ${nameOfKey(other, middleC)}`;
      dispatch(edit((rig) => ({ ...rig, controllers: { ...rig.controllers, [which]: key } })));
      return undefined;
    }} />
  );
}

const ShortcutList = ({ shortcuts }: { shortcuts: readonly Shortcut[] }) => (
  <dl className="grid grid-cols-[130px_1fr] gap-x-3 gap-y-0.5">
    {shortcuts.map(({ keys, does }) => [<dt key={keys} className="number text-[12px]">{keys}</dt>, <dd key={does}>{does}</dd>])}
  </dl>
);
