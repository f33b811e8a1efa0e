import { data } from "react-router";

/** Addresses that lead nowhere get the same page as recordings that may not be seen. */
export function loader(): never {
  throw data({ message: "There is nothing at this address." }, { status: 404 });
}

export default function Nowhere() {
  return null;
}
