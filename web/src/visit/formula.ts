/** Formulas of the core as people write them, and with the numbers put in. */
import { fromSi, number, type System, unitOf, worked } from "../units/units";

export interface Token {
  text: string;
  sub?: string;
  sup?: boolean;
}

const SYMBOL = /[A-Za-z][A-Za-z0-9]*(?:_[A-Za-z0-9]+)?/;
const LEXEME = /\d+(?:\.\d+)?(?:e-?\d+)?|[A-Za-z][A-Za-z0-9]*(?:_[A-Za-z0-9]+)?|\*\*|[-+*/()]/g;
const SIGNS: Record<string, string> = { "*": " × ", "/": " ÷ ", "-": " − ", "+": " + " };

/** A formula with its symbols: V / v, h with a lowered r. */
export function symbols(formula: string): Token[] {
  return tokens(formula, (symbol) => {
    const [text = symbol, sub] = symbol.split("_");
    return { text: text === "dT" ? "ΔT" : text, ...(sub ? { sub } : {}) };
  });
}

type Numbers = Record<string, { value: number; kind: string }>;

/** The same with numbers in place of symbols, in the user's units. */
export function putIn(formula: string, numbers: Numbers, system: System): Token[] {
  return tokens(formula, (symbol) => {
    const given = numbers[symbol];
    return { text: given ? bare(given.value, given.kind, system) : symbol };
  });
}

/** The number alone, without its unit; a negative one in brackets. */
function bare(value: number, kind: string, system: System): string {
  const unit = unitOf(kind, system);
  const own = fromSi(value, unit);
  const shown = number(own, worked(own, unit));
  return shown.startsWith("−") ? `(${shown})` : shown;
}

function tokens(formula: string, symbol: (name: string) => Token): Token[] {
  let raised = false;
  return (formula.match(LEXEME) ?? []).flatMap((lexeme) => {
    if (lexeme === "**") {
      raised = true;
      return [];
    }
    const sup = raised;
    raised = false;
    if (lexeme in SIGNS) return [{ text: SIGNS[lexeme] ?? lexeme }];
    const token =
      SYMBOL.test(lexeme) && !/^\d/.test(lexeme) ? symbol(lexeme) : { text: lexeme.replace("-", "−") };
    return [sup ? { ...token, sup } : token];
  });
}
