import { type LayerParameterId, type Parameter } from '../../../../core/rig/parameters';
import { LAYER_PARAMETERS } from '../../../../core/rig/layerParameters';
import type { Layer, Patch, Sound } from '../../../../core/rig/schema';
import { Strip } from '../../../parts/Strip';
import { TargetStrip } from '../../../parts/TargetStrip';
import { rigSlice } from '../../../document/rigSlice';
import { editSound, useAppDispatch } from '../../../document/store';

/**
 * A strip of what a synth or grains alone have: of the layer that plays them, or of the sound itself where none does.
 */
export function KindStrip({
  patch,
  layer,
  sound,
  id,
  label,
  colour,
}: {
  patch: Patch;
  layer: Layer | null;
  sound: Sound;
  id: LayerParameterId;
  label?: string;
  colour?: string;
}) {
  const dispatch = useAppDispatch();
  const parameter: Parameter = LAYER_PARAMETERS[id];
  if (layer) return <TargetStrip patch={patch} target={`layer.${layer.id}.${id}`} label={label} colour={colour} />;
  return (
    <Strip
      parameter={parameter}
      value={sound.params[id] ?? parameter.default}
      label={label}
      colour={colour}
      onEnd={() => dispatch(rigSlice.actions.gestureEnded())}
      onChange={(value, gesture) =>
        dispatch(
          editSound(
            sound.id,
            (old) => {
              const { [id]: _, ...others } = old.params;
              return { ...old, params: value === parameter.default ? others : { ...others, [id]: value } };
            },
            gesture,
          ),
        )
      }
    />
  );
}
