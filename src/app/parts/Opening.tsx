/** What stands where something is on its way. */
export const Opening = () => (
  <div className="grid h-full place-items-center text-faint" role="status">
    Opening …
  </div>
);
