// The number in a page's address; `null` where there is none, so that there is no such page.
import { useParams } from "react-router";

export function useNumber(name: string): number | null {
  const text = useParams()[name] ?? "";
  return /^[1-9]\d{0,15}$/.test(text) ? Number(text) : null;
}
