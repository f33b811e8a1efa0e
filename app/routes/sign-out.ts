import { redirect } from "react-router";
import { leave } from "../services/session.server";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/sign-out";

export const loader = () => redirect("/");
export const action = ({ context }: Route.ActionArgs) => leave(context.get(appContext));
