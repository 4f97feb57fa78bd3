import type { Layer } from '../../core/rig/schema';
import { useAppDispatch, useAppSelector } from '../document/store';
import { choosingSlice } from '../hands/choosingSlice';

const TOGETHER = [
  ['set', 'same', 'All get the same value'],
  ['shift', 'as much', 'All are moved by as much'],
  ['scale', 'in proportion', 'All are multiplied by as much'],
] as const;

/** Several layers are chosen: what an edit of one does to the others. */
export function Several({ layer }: { layer: Layer }) {
  const dispatch = useAppDispatch();
  const chosen = useAppSelector((state) => state.choosing.chosenLayerIds);
  const together = useAppSelector((state) => state.choosing.together);
  if (chosen.length < 2 || !chosen.includes(layer.id)) return <div />;
  return (
    <div role="status" className="mx-3 mt-1.5 flex items-center gap-1 rounded-md bg-line/50 px-2 py-1 text-[12px]">
      <span className="min-w-0 flex-1">{chosen.length} layers: strips move them</span>
      {TOGETHER.map(([way, words, title]) => (
        <button
          key={way}
          className="button px-1.5! py-0! text-[11.5px]"
          title={title}
          aria-pressed={together === way}
          onClick={() => dispatch(choosingSlice.actions.togetherSet(way))}
        >
          {words}
        </button>
      ))}
    </div>
  );
}
