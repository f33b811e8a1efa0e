import { useEffect, useRef, useState, useSyncExternalStore } from "react";
import { useRevalidator } from "react-router";
import { takeInvite, wantsName } from "./identity";
import { AnswersStore, UNKNOWN, type AnswersState, type Me, type Served } from "./store";

const RELOAD_MS = 400;

/** The answers of the page's recording, live. */
export function useAnswers(
  token: string,
  served: Served,
  /** the people have changed */
  onPeople: () => void,
  /** what a stranger may do here, where somebody only looks at it as one: then nothing is said, and nobody is told */
  stranger: Pick<Me, "needsName" | "mayComment"> | null,
  /** is what others say told at once? It takes a connection, of which a browser has few for one server */
  listens = true,
): { store: AnswersStore | null; state: AnswersState } {
  const [store, setStore] = useState<AnswersStore | null>(null);
  const reload = useSoon(useRevalidator().revalidate);
  const people = useSoon(onPeople);
  const first = useRef(served);
  first.current = served;
  const looks = useRef(stranger);
  useEffect(() => {
    const made = new AnswersStore(token, first.current, { reload, people }, listens);
    if (looks.current) made.look(looks.current);
    else void made.open(takeInvite(), wantsName());
    setStore(made);
    return () => made.close();
  }, [token, reload, people, listens]);
  useEffect(() => store?.serve(served), [store, served]);
  const idle: AnswersState = { ...served, ...UNKNOWN };
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
