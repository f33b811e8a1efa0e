import { createContext } from "react";

/** Lets the server's own scripts and styles pass the content security policy. Undefined in the browser. */
export const NonceContext = createContext<string | undefined>(undefined);

/** In the browser: what lets styles that come later pass the policy of this page. */
export const pageNonce = (): string | undefined => document.querySelector<HTMLScriptElement>("script[nonce]")?.nonce;

/**
 * The modules of the player's own code, for the served watch page to run first. None in the browser, which has them by
 * then.
 */
export const PlayerModulesContext = createContext<readonly string[]>([]);
