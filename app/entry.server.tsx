import { PassThrough } from "node:stream";
import createCache from "@emotion/cache";
import { CacheProvider } from "@emotion/react";
import { createReadableStreamFromReadable } from "@react-router/node";
import { isbot } from "isbot";
import { renderToPipeableStream } from "react-dom/server";
import { ServerRouter, type EntryContext, type RouterContextProvider } from "react-router";
import { contentSecurityPolicy } from "#server/http/headers";
import { NonceContext, PlayerModulesContext } from "./components/nonce";
import { pictureFirst } from "./services/picture-first.server";
import { ancestorsContext, appContext } from "./services/context.server";

const GIVE_UP_MS = 10_000;
/** Routes whose page is there for a player. */
const PLAYING = new Set(["routes/watch", "routes/embed"]);

export default function handleRequest(
  request: Request,
  status: number,
  headers: Headers,
  entry: EntryContext,
  provider: RouterContextProvider,
) {
  const { nonce, runtime, dev } = provider.get(appContext);
  // A cache of its own for each request: styles carry the request's nonce.
  const cache = createCache({ key: "cn", nonce });
  return new Promise<Response>((done, failed) => {
    let shellSent = false;
    const plays = entry.staticHandlerContext.matches.some(({ route }) => PLAYING.has(route.id));
    const ready =
      plays || isbot(request.headers.get("user-agent") ?? "") || entry.isSpaMode ? "onAllReady" : "onShellReady";
    const { pipe, abort } = renderToPipeableStream(
      <NonceContext value={nonce}>
        <PlayerModulesContext value={playerModules(entry)}>
          <CacheProvider value={cache}>
            <ServerRouter context={entry} url={request.url} nonce={nonce} />
          </CacheProvider>
        </PlayerModulesContext>
      </NonceContext>,
      {
        nonce,
        [ready]() {
          shellSent = true;
          const body = new PassThrough();
          pipe(body);
          headers.set("content-type", "text/html; charset=utf-8");
          headers.set("content-security-policy", contentSecurityPolicy(nonce, dev, provider.get(ancestorsContext)));
          if (!headers.has("cache-control")) headers.set("cache-control", "private, no-cache");
          const answer = (page: BodyInit) => done(new Response(page, { status, headers }));
          if (plays) pictureFirst(body).then(answer, failed);
          else answer(createReadableStreamFromReadable(body));
        },
        onShellError: failed,
        onError(error) {
          status = 500;
          if (shellSent) runtime.log.error({ err: error }, "render");
        },
      },
    );
    setTimeout(abort, GIVE_UP_MS).unref();
  });
}

/**
 * The build puts the player's own code in chunks by these names; in development there are none, and the page brings it.
 */
function playerModules({ manifest }: EntryContext): string[] {
  return manifest.routes["routes/watch"]?.imports?.filter((file) => /\/(?:player|time)-[\w-]+\.js$/.test(file)) ?? [];
}

export function handleError(
  error: unknown,
  { request, context }: { request: Request; context: Readonly<RouterContextProvider> },
) {
  if (!request.signal.aborted) context.get(appContext).runtime.log.error({ err: error }, "loader or action failed");
}
