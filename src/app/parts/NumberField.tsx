import { TypedField } from './TypedField';

/** A whole number within limits, typed or stepped. */
export function NumberField({
  label,
  value,
  low,
  high,
  unit = '',
  hideLabel,
  onChange,
}: {
  label: string;
  value: number;
  low: number;
  high: number;
  unit?: string;
  hideLabel?: boolean;
  onChange: (value: number) => void;
}) {
  return (
    <TypedField
      label={label}
      hideLabel={hideLabel}
      text={`${value}${unit}`}
      step={(by) => onChange(Math.min(high, Math.max(low, value + by)))}
      commit={(typed) => {
        const read = Number(typed.replace('%', '').trim());
        if (typed.trim() === '' || !Number.isInteger(read) || read < low || read > high)
          return `a whole number from ${low} to ${high}`;
        onChange(read);
        return undefined;
      }}
    />
  );
}
