import { useEffect, useRef, useState, useSyncExternalStore } from "react";
import { useRevalidator } from "react-router";
import { takeInvite, wantsName } from "./identity";
import { AnswersStore, type AnswersState, type Served } from "./store";

const RELOAD_MS = 400;

/** The answers of the page's recording, live. */
export function useAnswers(
  token: string,
  served: Served,
  /** the people have changed */
  onPeople: () => void,
): { store: AnswersStore | null; state: AnswersState } {
  const [store, setStore] = useState<AnswersStore | null>(null);
  const reload = useSoon(useRevalidator().revalidate);
  const people = useSoon(onPeople);
  const first = useRef(served);
  first.current = served;
  useEffect(() => {
    const made = new AnswersStore(token, first.current, { reload, people });
    void made.open(takeInvite(), wantsName());
    setStore(made);
    return () => made.close();
  }, [token, reload, people]);
  useEffect(() => store?.serve(served), [store, served]);
  const idle: AnswersState = { ...served, me: null, watching: null, live: true };
  const idleRef = useRef(idle);
  const state = useSyncExternalStore(
    store?.subscribe ?? nothing,
    () => store?.snapshot() ?? idleRef.current,
    () => idleRef.current,
  );
  return { store, state };
}

/** Calls once, a little later, for however many ask meanwhile. */
function useSoon(work: () => unknown): () => void {
  const now = useRef(work);
  now.current = work;
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  useEffect(() => () => clearTimeout(timer.current), []);
  return useRef(() => {
    clearTimeout(timer.current);
    timer.current = setTimeout(() => void now.current(), RELOAD_MS);
  }).current;
}

const nothing = () => () => undefined;
