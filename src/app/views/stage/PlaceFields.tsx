import { NumberField } from '../../parts/NumberField';
import { TypedField } from '../../parts/TypedField';

export interface Place {
  address: string;
  port: number;
}

/** Where a machine is on a network: four numbers and a port. `fits`: what an address must be; else `example` is told. */
export function PlaceFields({
  label,
  place,
  put,
  fits,
  example,
  disabled,
  hideLabel,
}: {
  label: string;
  place: Place;
  put: (place: Place) => void;
  fits: (address: string) => boolean;
  example: string;
  disabled?: boolean;
  hideLabel?: boolean;
}) {
  return (
    <>
      <span className="w-44">
        <TypedField
          hideLabel={hideLabel}
          label={label}
          text={place.address}
          disabled={disabled}
          commit={(typed) => {
            if (!fits(typed.trim())) return example;
            put({ ...place, address: typed.trim() });
            return undefined;
          }}
        />
      </span>
      <span className="w-28">
        <NumberField
          label="port"
          value={place.port}
          low={1}
          high={65535}
          onChange={(port) => put({ ...place, port })}
        />
      </span>
    </>
  );
}
