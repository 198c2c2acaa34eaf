// Numbers as people type and paste them: arithmetic, the real minus sign, a decimal comma. What cannot be read whole is
// refused with its place; nothing is guessed. The one reader of numbers in the browser.
import { entry } from "./lists";

export type Amount = { value: number } | { why: string };

/** The value of `2.5`, `-3/4`, `360/7`, `2*(1+0,5)`; `null` where it is no finite number. */
export function amountOf(text: string): number | null {
  const read = readAmount(text);
  return "value" in read ? read.value : null;
}

/** The value of an amount, or why it has none, as a sentence without its subject. */
export function readAmount(text: string): Amount {
  const tokens = tokensOf(text);
  if (!Array.isArray(tokens)) return tokens;
  if (tokens.length === 0) return { why: "nothing is typed" };
  const value = sum(tokens);
  if (value === null) return { why: "it is incomplete" };
  if (tokens.length > 0) return { why: `“${tokens[0]}” cannot follow what is before it` };
  return Number.isFinite(value) ? { value } : { why: "it divides by 0" };
}

/** What a field takes beyond a number; the ends belong to it, but `above` does not. */
export type Bounds = { above?: number; least?: number; most?: number; whole?: boolean };

/** Why a number is not taken, as a sentence without its subject; `null` where it is. */
export function outside(value: number, { above, least, most, whole }: Bounds): string | null {
  if (whole && !Number.isInteger(value)) return "it must be a whole number";
  if (above !== undefined && value <= above) return `it must be more than ${above}`;
  if (least !== undefined && value < least) return `it must be at least ${least}`;
  if (most !== undefined && value > most) return `it must be at most ${most}`;
  return null;
}

const TOKEN = /\s*(?:(\d+(?:[.,]\d*)?|[.,]\d+)(e[+-]?\d+)?|([-+*/()]))/iy;
// A comma before three figures may be a decimal one or one between thousands; before a leading 0 it can only be decimal.
const EITHER = /^[1-9]\d{0,2},\d{3}$/;

function tokensOf(text: string): string[] | { why: string } {
  const plain = text.replaceAll("−", "-").replaceAll("×", "*").trim();
  const tokens: string[] = [];
  let at = 0;
  while (at < plain.length) {
    TOKEN.lastIndex = at;
    const found = TOKEN.exec(plain);
    if (!found) return { why: `“${plain.slice(at).trim().slice(0, 12)}” is not a number` };
    const [whole, digits, exponent = "", sign] = found;
    at += whole.length;
    if (digits && /[\d.,a-z_]/i.test(plain[at] ?? ""))
      return { why: `“${plain.slice(at - digits.length - exponent.length).slice(0, 12)}” is not a number` };
    if (digits && EITHER.test(digits))
      return {
        why: `“${digits}” could be ${digits.replace(",", ".")} or ${digits.replace(",", "")}. Type one of these`,
      };
    tokens.push(sign ?? digits!.replace(",", ".") + exponent);
  }
  return tokens;
}

// Each reads from the front of the tokens and removes what it has read.
function sum(tokens: string[]): number | null {
  return chained(tokens, product, { "+": (a, b) => a + b, "-": (a, b) => a - b });
}

function product(tokens: string[]): number | null {
  return chained(tokens, signed, { "*": (a, b) => a * b, "/": (a, b) => a / b });
}

type Operations = Record<string, (a: number, b: number) => number>;

function chained(
  tokens: string[],
  part: (tokens: string[]) => number | null,
  operations: Operations,
): number | null {
  let value = part(tokens);
  while (value !== null && tokens[0] !== undefined && tokens[0] in operations) {
    const operation = entry(operations, tokens.shift()!);
    const next = part(tokens);
    value = next === null ? null : operation(value, next);
  }
  return value;
}

function signed(tokens: string[]): number | null {
  const token = tokens.shift();
  if (token === undefined) return null;
  if (token === "-" || token === "+") {
    const value = signed(tokens);
    return value === null ? null : token === "-" ? -value : value;
  }
  if (token === "(") {
    const value = sum(tokens);
    return tokens.shift() === ")" ? value : null;
  }
  return /^[\d.]/.test(token) ? Number(token) : null;
}

/**
 * The fields of pasted text, row by row, as they stand there: a table by tabs, lines and semicolons, else a row by
 * commas that blanks follow, by blanks, or by commas alone. Brackets around a row or a table do not count.
 */
export function fieldsOf(text: string): string[][] {
  const plain = text.replace(/[[\]{}]/g, " ").replace(/\r\n?/g, "\n");
  const rows = plain.split("\n").filter((row) => row.trim() !== "");
  return rows.map((row) => splitRow(row));
}

function splitRow(row: string): string[] {
  const trimmed = row.replace(/^ +| +$/g, "");
  const by = /[\t;]/.test(row)
    ? /[\t;]/
    : /,\s/.test(trimmed.replace(/,\s*$/, ""))
      ? /,\s+|\s+/
      : /\s/.test(trimmed)
        ? /\s+/
        : /,/;
  const alone = by.source === "," && trimmed.split(",").length === 2; // one number with a decimal comma
  return (alone ? [trimmed] : (by.source === "[\\t;]" ? row : trimmed).split(by)).map((field) =>
    field.trim().replace(/,$/, ""),
  );
}

export type Numbers = { numbers: number[] } | { why: string };

/** All numbers of pasted text in the order in which they stand; or which of them is none, and why. */
export function numbersIn(text: string): Numbers {
  const fields = fieldsOf(text).flat();
  while (fields.at(-1) === "") fields.pop();
  const numbers: number[] = [];
  for (const [i, field] of fields.entries()) {
    const read = readAmount(field);
    if ("why" in read) return { why: `Number ${i + 1}: ${read.why}.` };
    numbers.push(read.value);
  }
  return { numbers };
}
