import { labelIn, labelOfTarget, readsSource } from '../../../core/rig/moves';
import type { Patch, Route } from '../../../core/rig/schema';
import { useAppDispatch, useAppSelector } from '../../document/store';
import { choosingSlice } from '../../hands/choosingSlice';
import { listeningSlice } from '../../listening/listeningSlice';
import { ByList } from './ByList';
import { ConnectSign } from './ConnectSign';
import { Part } from '../../parts/Part';
import { reachText } from './RoutesTable';

/** What a source moves, each as the strip of what is moved, and how it is made to move more. */
export function Moves({ patch, source }: { patch: Patch; source: string }) {
  const dispatch = useAppDispatch();
  const alone = useAppSelector((state) => state.listening.alone === source);
  const routes = patch.routes.filter((route) => readsSource(route, source, false));
  const windows = patch.layers.filter((layer) => layer.windows.some((window) => window.source === source));
  return (
    <Part title="It moves">
      {routes.map((route) => (
        <RouteLine key={route.id} patch={patch} route={route} name={labelOfTarget(patch, route.target)} />
      ))}
      {windows.map((layer) => (
        <p key={layer.id} className="text-[12px]">
          brings in {layer.name}
        </p>
      ))}
      {routes.length + windows.length === 0 && <p className="text-[12px] text-faint">Nothing yet.</p>}
      <div className="flex flex-wrap gap-1.5">
        <ConnectSign patch={patch} source={source} words="connect …" />
        <ByList patch={patch} source={source} />
        <button
          className="button"
          aria-pressed={alone}
          title="Hear only what this moves: everything else rests, until it is put back"
          onClick={() => dispatch(listeningSlice.actions.aloneSet(alone ? null : source))}
        >
          hear only this
        </button>
      </div>
    </Part>
  );
}

/** What moves a source, where it is a target as well. */
export function MovedByList({ patch, target }: { patch: Patch; target: string }) {
  const routes = patch.routes.filter((route) => route.target === target);
  return (
    <Part title="It is moved by">
      {routes.map((route) => (
        <RouteLine
          key={route.id}
          patch={patch}
          route={route}
          name={typeof route.source === 'string' ? labelIn(patch, route.source) : route.source.formula}
        />
      ))}
      {routes.length === 0 && <p className="text-[12px] text-faint">Hands alone.</p>}
    </Part>
  );
}

function RouteLine({ patch, route, name }: { patch: Patch; route: Route; name: string }) {
  const dispatch = useAppDispatch();
  return (
    <button
      className={`flex flex-wrap items-center justify-between gap-x-2 rounded border border-edge bg-sheet px-1.5 text-left ${route.on ? '' : 'opacity-50'}`}
      onClick={() => dispatch(choosingSlice.actions.chosenSet({ route: route.id }))}
      title="Show this route"
    >
      <span dir="auto" className="min-w-0 break-words">
        {name}
      </span>
      <span className="number ml-auto text-[12px] whitespace-nowrap">{reachText(patch, route)}</span>
    </button>
  );
}
