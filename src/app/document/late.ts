const AGAIN_MS = 2000;

/**
 * What is fetched after the page stands, as soon as it is there: where the line is gone it is asked for again and again,
 * and until then nothing breaks for it.
 */
export async function untilThere<T>(fetchIt: () => Promise<T>, againMs = AGAIN_MS): Promise<T> {
  for (;;) {
    try {
      return await fetchIt();
    } catch {
      await new Promise((resolve) => setTimeout(resolve, againMs));
    }
  }
}
