import { nameOfKey, parseKey, type MiddleC } from '../../../core/music/noteNames';
import { edit, useAppDispatch, useAppSelector } from '../../document/store';
import { deskSlice } from '../../hands/deskSlice';
import { settingsSlice, type Theme } from '../../document/settingsSlice';
import { offline } from '../../show/offline';
import { SheetFrame } from '../../parts/Sheet';
import { useStore } from '../../parts/useLive';
import { TypedField } from '../../parts/TypedField';

/** What is set once: names of notes, the controller's range, the theme. */
export function SettingsSheet() {
  const dispatch = useAppDispatch();
  const { middleC, theme } = useAppSelector((state) => state.settings);
  const waiting = useStore(offline, (now) => now.waiting !== null);
  return (
    <SheetFrame title="Settings">
      <label className="flex items-center justify-between py-1">
        Middle C (key 60) is called
        <select
          className="field"
          value={middleC}
          onChange={(event) => dispatch(settingsSlice.actions.middleCChosen(Number(event.target.value) as MiddleC))}
        >
          {[3, 4, 5].map((octave) => (
            <option key={octave} value={octave}>
              C{octave}
            </option>
          ))}
        </select>
      </label>
      <div className="flex items-center justify-between gap-2 py-1">
        <span>The controller goes from</span>
        <span className="flex w-44 gap-1.5">
          <ControllerKey which="keyLow" label="lowest key of the controller" />
          <ControllerKey which="keyHigh" label="highest key of the controller" />
        </span>
      </div>
      <label className="flex items-center justify-between py-1">
        Theme
        <select
          className="field"
          value={theme}
          onChange={(event) => dispatch(settingsSlice.actions.themeChosen(event.target.value as Theme))}
        >
          <option value="chart">Chart</option>
          <option value="night">Night</option>
        </select>
      </label>
      <div className="flex items-center justify-between gap-2 py-1">
        <span>Concert pitch and tunings</span>
        <button className="button" onClick={() => dispatch(deskSlice.actions.sheetOpened('tuning'))}>
          Tuning …
        </button>
      </div>
      <div className="flex items-center justify-between gap-2 py-1">
        <span>Sound device, pairs of outputs, click</span>
        <button className="button" onClick={() => dispatch(deskSlice.actions.sheetOpened('outputs'))}>
          Outputs …
        </button>
      </div>
      {waiting && (
        <div className="flex items-center justify-between gap-2 py-1">
          <span>A newer version is here</span>
          <button className="button" onClick={() => offline.use()}>
            Use it now
          </button>
        </div>
      )}
    </SheetFrame>
  );
}

/** An end of the controller's keyboard: effects are laid out from its lowest key, and formulas scale by both. */
function ControllerKey({ which, label }: { which: 'keyLow' | 'keyHigh'; label: string }) {
  const dispatch = useAppDispatch();
  const middleC = useAppSelector((state) => state.settings.middleC);
  const controllers = useAppSelector((state) => state.rig.rig!.controllers);
  return (
    <TypedField
      hideLabel
      label={label}
      text={nameOfKey(controllers[which], middleC)}
      commit={(typed) => {
        const key = parseKey(typed, middleC);
        const other = which === 'keyLow' ? controllers.keyHigh : controllers.keyLow;
        if (key === undefined || (which === 'keyLow' ? key >= other : key <= other))
          return `a key ${which === 'keyLow' ? 'below' : 'above'} ${nameOfKey(other, middleC)}`;
        dispatch(edit((rig) => ({ ...rig, controllers: { ...rig.controllers, [which]: key } })));
        return undefined;
      }}
    />
  );
}
