import { isAway } from "../api/client";

const pause = (ms: number) => new Promise((done) => setTimeout(done, ms));

/** Tries again while the server is away, less and less often; what it answers, or refuses, is passed on. */
export async function patient<T>(ask: () => Promise<T>, tries: number, signal?: AbortSignal): Promise<T> {
  for (let n = 0; ; n++) {
    try {
      return await ask();
    } catch (e) {
      if (!isAway(e) || n >= tries || signal?.aborted) throw e;
      await pause(Math.min(5000, 300 * 2 ** n));
    }
  }
}
