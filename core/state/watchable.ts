/**
 * Something with a state that is watched: each change makes another object, and tells whoever listens. In the form that
 * `useSyncExternalStore` of React takes, without knowing of it.
 */
export abstract class Watchable<T extends object> {
  #state: T;
  #listeners = new Set<() => void>();

  constructor(first: T) {
    this.#state = first;
  }

  /** Calls `listener` after every change. @returns ends that */
  subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  /** The state now: the same object until it changes. */
  snapshot = (): T => this.#state;

  protected set(change: Partial<T>): void {
    this.#state = { ...this.#state, ...change };
    // A listener that leaves, or brings another one, while it is called changes nothing for this round.
    for (const listener of [...this.#listeners]) listener();
  }

  /** Nobody is told any more. */
  protected forgetListeners(): void {
    this.#listeners.clear();
  }
}
