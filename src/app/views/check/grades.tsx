import type { Grade } from '../../../core/check/finding';

export const GRADE_NAMES: Record<Grade, string> = {
  sure: 'sure',
  measured: 'measured, you decide',
  taste: 'a matter of taste',
};
export const GRADE_MEANS: Record<Grade, string> = {
  sure: 'It follows from the rig’s own numbers.',
  measured: 'It lies beyond a named threshold in rendered sound.',
  taste: 'It is unusual, and may well be meant.',
};

/** How sure a finding is, as a water line: under water, half, above. */
export function GradeSign({ grade }: { grade: Grade }) {
  const level = { sure: 13, measured: 7, taste: 0 }[grade];
  return (
    <svg width={14} height={14} viewBox="0 0 14 14" role="img" aria-label={GRADE_NAMES[grade]}>
      <rect x={1} y={1} width={12} height={12} rx={2.5} fill="none" stroke="currentColor" strokeWidth={1.4} />
      {level > 0 && (
        <rect
          x={1}
          y={14 - level - 0.5}
          width={12}
          height={level - 0.5}
          rx={grade === 'sure' ? 2.5 : 1}
          fill="currentColor"
        />
      )}
    </svg>
  );
}
