import { useEffect, useRef } from "react";
import { useFetcher, useRevalidator } from "react-router";
import type { Cutting } from "#core/recipe/history";
import { useAskAgain } from "../components/useAskAgain";
import type { loader } from "../routes/cuts";

const AGAIN_MS = 500;

/**
 * What could be left out of a recording of one's own, what is, and what is being published.
 * @param revision that the page shows: what is left out is told anew with each
 */
export function useCuts(id: string, revision: number) {
  const cuts = useFetcher<typeof loader>();
  const { load, data } = cuts;
  const deed = useFetcher<{ error: string | null }>();
  const { revalidate } = useRevalidator();
  const path = `/recordings/${id}/cuts`;
  const settled = deed.state === "idle";
  useEffect(() => {
    if (settled) void load(path);
  }, [load, path, revision, settled]);
  const publication = data?.publication ?? null;
  const waiting = publication?.state === "waiting";
  useAskAgain(cuts, path, waiting, AGAIN_MS);
  /** the publication that this page has seen waiting */
  const watched = useRef<string | null>(null);
  useEffect(() => {
    if (waiting) watched.current = publication.id;
    // A page without a live connection is told by nobody else.
    else if (publication?.state === "published" && watched.current === publication.id) {
      watched.current = null;
      void revalidate();
    }
  }, [waiting, publication, revalidate]);
  const failed = publication?.state === "failed" && watched.current === publication.id ? publication.problem : null;
  return {
    out: data?.out ?? [],
    proposals: data?.proposals ?? [],
    /** what is being published */
    publishing: waiting ? publication : null,
    busy: !settled || waiting,
    error: settled ? (deed.data?.error ?? failed) : null,
    change: (what: Cutting) =>
      void deed.submit({ ...what, seen: String(revision) }, { method: "post", action: `/recordings/${id}` }),
  };
}
