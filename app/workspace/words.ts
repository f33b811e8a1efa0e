import type { MemberRole } from "#core/access/access";

/** What a role is called on screens. */
export const ROLE_NAMES: Record<MemberRole, string> = { owner: "Owner", member: "Member" };

/** What a role may do, for whoever gives or gets it. */
export const ROLE_WORDS: Record<MemberRole, string> = {
  owner: "records, sees what is shared, and lets people in",
  member: "records, and sees what is shared",
};
