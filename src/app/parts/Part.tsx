import type { ReactNode } from 'react';
import { NameField, useRenaming } from './NameField';

export const Part = ({ title, action, children }: { title: string; action?: ReactNode; children: ReactNode }) => (
  <section aria-label={title} className="flex flex-col gap-1">
    <div className="flex h-5 items-center justify-between">
      <h3 className="heading">{title}</h3>
      {action}
    </div>
    {children}
  </section>
);

/** A name that is changed where it stands, with what it is the name of. */
export function Named({ name, kind, onName }: { name: string; kind: string; onName: (name: string) => void }) {
  const renaming = useRenaming();
  if (renaming.renaming)
    return (
      <NameField
        label={`Name of the ${kind}`}
        name={name}
        className="text-[15px] font-bold"
        onName={onName}
        onEnd={renaming.end}
      />
    );
  return (
    <h2 className="flex items-baseline gap-2">
      <button dir="auto" className="min-w-0 truncate text-[15px] font-bold" title="Rename" onClick={renaming.begin}>
        {name || kind}
      </button>
      <span className="text-[12px] whitespace-nowrap text-faint">{kind}</span>
    </h2>
  );
}

export const Row = ({ label, children }: { label: string; children: ReactNode }) => (
  <label className="flex items-center justify-between gap-2">
    <span>{label}</span>
    {children}
  </label>
);
