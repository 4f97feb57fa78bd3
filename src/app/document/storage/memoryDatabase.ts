type Key = string | number;
/** By store: where the key of a value is in it, and whether keys are numbered. */
type Shapes = Readonly<Record<string, { keyPath?: string; numbered?: boolean }>>;

/**
 * Keeps values by key in stores, in memory, as the page's database does on disk, with as much of its interface as is
 * used here: for a browser that keeps nothing. Values are held as they are: they are never changed
 * by those who have them.
 */
export class MemoryDatabase {
  private readonly stores: ReadonlyMap<string, Map<Key, unknown>>;
  private next = 1;

  constructor(private readonly shapes: Shapes) {
    this.stores = new Map(Object.keys(shapes).map((name) => [name, new Map<Key, unknown>()]));
  }

  private of(store: string): Map<Key, unknown> {
    const found = this.stores.get(store);
    if (!found) throw new Error(`there is no store “${store}”`);
    return found;
  }

  get(store: string, key: Key): Promise<unknown> {
    return Promise.resolve(this.of(store).get(key));
  }
  getKey(store: string, key: Key): Promise<Key | undefined> {
    return Promise.resolve(this.of(store).has(key) ? key : undefined);
  }
  getAll(store: string): Promise<unknown[]> {
    return Promise.resolve([...this.of(store).values()]);
  }
  getAllKeys(store: string): Promise<Key[]> {
    return Promise.resolve([...this.of(store).keys()]);
  }

  /** An index is called as the field that it goes by. */
  getAllFromIndex(store: string, index: string, value: unknown): Promise<unknown[]> {
    return Promise.resolve(
      [...this.of(store).values()].filter((each) => (each as Record<string, unknown>)[index] === value),
    );
  }

  put(store: string, value: unknown, key?: Key): Promise<Key> {
    const { keyPath, numbered } = this.shapes[store];
    let at = key ?? (value as Record<string, Key | undefined>)[keyPath!];
    let kept = value;
    if (at === undefined && numbered) {
      at = this.next++;
      kept = { ...(value as object), [keyPath!]: at };
    }
    if (at === undefined) throw new Error(`a value for “${store}” has no key`);
    this.of(store).set(at, kept);
    return Promise.resolve(at);
  }

  add(store: string, value: unknown): Promise<Key> {
    return this.put(store, value);
  }
  delete(store: string, key: Key): Promise<void> {
    this.of(store).delete(key);
    return Promise.resolve();
  }
  close(): void {
    /* There is nothing to let go. */
  }

  /** Nothing fails half done here: each step is done at once. */
  transaction(names: string | readonly string[]) {
    const objectStore = (name: string) => ({
      get: (key: Key) => this.get(name, key),
      getAll: () => this.getAll(name),
      getAllKeys: () => this.getAllKeys(name),
      put: (value: unknown, key?: Key) => this.put(name, value, key),
      add: (value: unknown) => this.add(name, value),
      delete: (key: Key) => this.delete(name, key),
      index: (index: string) => ({
        getAll: (value: unknown) => this.getAllFromIndex(name, index, value),
        getAllKeys: async (value: unknown) =>
          (await this.getAllFromIndex(name, index, value)).map(
            (each) => (each as Record<string, Key>)[this.shapes[name].keyPath!],
          ),
      }),
    });
    return { objectStore, store: objectStore(typeof names === 'string' ? names : names[0]), done: Promise.resolve() };
  }
}
