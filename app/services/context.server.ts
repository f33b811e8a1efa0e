import { createContext } from "react-router";
import type { Subject } from "#core/access/access";
import type { SignedIn } from "#server/accounts/sessions";
import type { Runtime } from "#server/runtime";

/** What every loader and action gets with its request. */
export interface AppContext {
  runtime: Runtime;
  /** the member who is signed in, or null for a guest */
  member: SignedIn | null;
  /** who asks, for `core/access`: the member, or a guest, with what their browser shows */
  subject: Subject;
  sessionToken: string | null;
  /** what this computer remembers of who has signed in on it */
  computerCookie: string | null;
  /** what the browser shows, as its cookie has it */
  passesCookie: string | null;
  /** is it asked in a page of another site? Nobody is signed in there */
  embedded: boolean;
  /** what a guest's browser keeps, or null */
  guestKey: string | null;
  /** allows this answer's own scripts, and no others */
  nonce: string;
  /** what the browser says of itself */
  agent: string;
  /** where the request comes from, for limits */
  address: string;
  dev: boolean;
  /** is there anything that carries mail, or shows it? */
  mails: boolean;
}

export const appContext = createContext<AppContext>();

/** The pages that may show this one in a frame, as a policy names them: none, unless a loader says otherwise. */
export const ancestorsContext = createContext<readonly string[]>(["'none'"]);
