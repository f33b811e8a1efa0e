import { index, layout, route, type RouteConfig } from "@react-router/dev/routes";

export default [
  layout("routes/frame.tsx", [
    index("routes/home.tsx"),
    route("sign-in", "routes/sign-in.tsx"),
    route("sign-up", "routes/sign-up.tsx"),
    route("record", "routes/record.tsx"),
    route("library", "routes/library.tsx"),
    route("answers", "routes/answers.tsx"),
    route("workspace", "routes/workspace.tsx"),
    route("join/:token", "routes/join.tsx"),
    route("figures", "routes/figures.tsx"),
    route("figures/counted", "routes/counted.tsx"),
    route("figures/:id", "routes/recording-figures.tsx"),
    route("w/:token", "routes/watch.tsx"),
    route("*", "routes/nowhere.tsx"),
  ]),
  route("sign-out", "routes/sign-out.ts"),
  route("takes", "routes/takes.ts"),
  route("set-ups", "routes/set-ups.ts"),
  route("unread", "routes/unread.ts"),
  route("recordings/:id", "routes/recording.ts"),
  route("recordings/:id/people", "routes/people.ts"),
  route("w/:token/visit", "routes/visit.ts"),
  route("w/:token/say", "routes/say.ts"),
  route("w/:token/spans", "routes/spans.ts"),
  route("figures/:id/:file", "routes/figures-file.ts"),
] satisfies RouteConfig;
