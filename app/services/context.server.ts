import { createContext } from "react-router";
import type { SignedIn } from "#server/accounts/sessions";
import type { Runtime } from "#server/runtime";

/** What every loader and action gets with its request. */
export interface AppContext {
  runtime: Runtime;
  /** the member who is signed in, or null for a guest */
  member: SignedIn | null;
  sessionToken: string | null;
  /** what this computer remembers of who has signed in on it */
  computerCookie: string | null;
  /** what a guest's browser keeps, or null */
  guestKey: string | null;
  /** allows this answer's own scripts, and no others */
  nonce: string;
  /** where the request comes from, for limits */
  address: string;
  dev: boolean;
}

export const appContext = createContext<AppContext>();
