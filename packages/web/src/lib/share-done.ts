import type { Ref } from 'vue';

/** A piece of work that tells how far it is. */
export interface Telling {
  /** Tells its share done, 0 to 1; nothing is heard of it once it has ended, or another one has begun. */
  tell(share: number): void;
  end(): void;
}

/**
 * How far work in another thread is. What it tells comes by a way of its own, and may arrive behind its answer: a late word
 * must not make ended work look as if it went on.
 * @param progress share done; null while nothing is done
 * @returns what begins a piece of work
 */
export function shareDone(progress: Ref<number | null>): () => Telling {
  let latest = 0;
  return () => {
    const own = ++latest;
    progress.value = 0;
    return {
      tell(share) {
        if (own === latest && progress.value !== null) progress.value = share;
      },
      end() {
        if (own === latest) progress.value = null;
      },
    };
  };
}
