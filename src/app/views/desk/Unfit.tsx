/** In place of the application where it cannot run. */
export function Unfit({ missing }: { missing: string }) {
  return (
    <main className="grid h-full place-items-center bg-paper p-8 text-ink">
      <div className="max-w-xl">
        <h1 className="text-[22px] font-bold">Wavicle cannot run here</h1>
        <p role="alert" className="mt-3 text-[15px] leading-relaxed">
          {missing}
        </p>
      </div>
    </main>
  );
}
