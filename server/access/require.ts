import { mayInWorkspace, type WorkspaceDeed } from "#core/access/access";
import type { SignedIn } from "../accounts/sessions";
import { Problem } from "../http/problem";

/**
 * May they let people open something who do not belong to its workspace: anyone with the link, or somebody from outside
 * by name?
 */
export const sharesOutside = (member: SignedIn, workspaceId: string): boolean =>
  member.memberships.some((one) => one.workspaceId === workspaceId && one.sharesOutside);

/** @throws {Problem} 403 where only owners do */
export function requireOutside(member: SignedIn, workspaceId: string): void {
  if (!sharesOutside(member, workspaceId)) throw onlyOwners();
}

export const onlyOwners = () =>
  new Problem(403, "only-owners", "In this workspace only its owners share with people outside. Ask one of them.");

/** The member may do this with the workspace they look at. @throws {Problem} 403 otherwise */
export function requireDeed(member: SignedIn, deed: WorkspaceDeed): void {
  if (!mayInWorkspace(member, deed, member.workspaceId)) {
    throw new Problem(403, "not-allowed", "Only an owner of the workspace can do this.");
  }
}
