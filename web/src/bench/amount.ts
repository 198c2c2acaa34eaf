// Amounts as people type them: numbers and arithmetic, with the real minus sign and a decimal comma too.

/** The value of `2.5`, `-3/4`, `360/7`, `2*(1+0,5)`; `null` where it is no finite number. */
export function amountOf(text: string): number | null {
  const plain = text.replaceAll("−", "-").replaceAll("×", "*").replaceAll(",", ".").replace(/\s+/g, "");
  const tokens = plain.match(/\d+\.?\d*(?:e[+-]?\d+)?|\.\d+(?:e[+-]?\d+)?|[-+*/()]/gi) ?? [];
  if (tokens.length === 0 || tokens.join("") !== plain) return null;
  const value = sum(tokens);
  return value !== null && tokens.length === 0 && Number.isFinite(value) ? value : null;
}

// Each reads from the front of the tokens and takes away what it has read.
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
    const operation = operations[tokens.shift()!]!;
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
