import { mayInWorkspace, type WorkspaceDeed } from "#core/access/access";
import type { SignedIn } from "../accounts/sessions";
import { Problem } from "../http/problem";

/** The member may do this with the workspace they look at. @throws {Problem} 403 otherwise */
export function requireDeed(member: SignedIn, deed: WorkspaceDeed): void {
  if (!mayInWorkspace(member, deed, member.workspaceId)) {
    throw new Problem(403, "not-allowed", "Only an owner of the workspace can do this.");
  }
}
