/** What is asked of somebody who makes an account, as `FormPage` shows it. */
export const NAME_FIELD = { name: "name", label: "Your name", autoComplete: "name", autoFocus: true };
export const WORKSPACE_FIELD = {
  name: "workspace",
  label: "Workspace",
  autoComplete: "organization",
  helperText: "The name of your practice, team or class.",
};
export const PASSWORD_FIELD = {
  name: "password",
  label: "Password",
  type: "password",
  autoComplete: "new-password",
  helperText: "At least 10 characters.",
};
