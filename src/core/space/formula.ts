/**
 * Formulas over sources, such as `(key − keyLow) / (keyHigh − keyLow)`: numbers, names, + − * /, parentheses, minus
 * signs and the functions
 * min, max and abs. Parsed once into a list of steps that a loop without allocation can run; never evaluated as code.
 */
export type FormulaStep =
  | { op: 'number'; value: number }
  | { op: 'name'; name: string }
  | { op: 'add' | 'subtract' | 'multiply' | 'divide' | 'negate' | 'min' | 'max' | 'abs' };

export class FormulaError extends Error {
  constructor(
    message: string,
    readonly at: number,
  ) {
    super(`${message} at character ${at + 1}`);
  }
}

const FUNCTIONS = { min: 2, max: 2, abs: 1 } as const;
const TOKEN = /\s*(?:(\d+(?:\.\d+)?)|([a-zA-Z][a-zA-Z0-9]*(?:\.[a-zA-Z0-9]+)*)|([-−+*/(),]))/y;

interface Token {
  kind: 'number' | 'name' | 'sign' | 'end';
  text: string;
  at: number;
}

/**
 * The steps of a formula in the order in which a stack machine runs them. Throws a {@link FormulaError} with the place
 * of what is wrong.
 */
export function parseFormula(text: string): FormulaStep[] {
  if (text.length > LONGEST_FORMULA)
    throw new FormulaError(`a formula has ${LONGEST_FORMULA} characters at the most, this one is cut`, LONGEST_FORMULA);
  const tokens = tokensOf(text);
  const steps: FormulaStep[] = [];
  let next = 0;
  const isSign = (...signs: string[]) => tokens[next].kind === 'sign' && signs.includes(tokens[next].text);
  const expect = (sign: string) => {
    if (!isSign(sign)) throw new FormulaError(`expected "${sign}"`, tokens[next].at);
    next++;
  };
  const sum = (): void => {
    product();
    while (isSign('+', '-')) {
      const op = tokens[next++].text === '+' ? 'add' : 'subtract';
      product();
      steps.push({ op });
    }
  };
  const product = (): void => {
    factor();
    while (isSign('*', '/')) {
      const op = tokens[next++].text === '*' ? 'multiply' : 'divide';
      factor();
      steps.push({ op });
    }
  };
  const call = (name: keyof typeof FUNCTIONS): void => {
    expect('(');
    for (let i = 0; i < FUNCTIONS[name]; i++) {
      if (i > 0) expect(',');
      sum();
    }
    expect(')');
    steps.push({ op: name });
  };
  const factor = (): void => {
    const token = tokens[next++];
    if (token.kind === 'number') steps.push({ op: 'number', value: Number(token.text) });
    else if (token.kind === 'name' && Object.hasOwn(FUNCTIONS, token.text)) call(token.text as keyof typeof FUNCTIONS);
    else if (token.kind === 'name') steps.push({ op: 'name', name: token.text });
    else if (token.text === '-') {
      factor();
      steps.push({ op: 'negate' });
    } else if (token.text === '(') {
      sum();
      expect(')');
    } else throw new FormulaError('expected a number, a source or "("', token.at);
  };
  sum();
  if (tokens[next].kind !== 'end') throw new FormulaError(`did not expect "${tokens[next].text}"`, tokens[next].at);
  return steps;
}

function tokensOf(text: string): Token[] {
  const tokens: Token[] = [];
  TOKEN.lastIndex = 0;
  const end = text.trimEnd().length;
  while (TOKEN.lastIndex < end) {
    const from = TOKEN.lastIndex;
    const match = TOKEN.exec(text);
    if (!match)
      throw new FormulaError('this character has no meaning here', from + /^\s*/.exec(text.slice(from))![0].length);
    const token = match[1] ?? match[2] ?? match[3].replace('−', '-');
    tokens.push({
      kind: match[1] ? 'number' : match[2] ? 'name' : 'sign',
      text: token,
      at: TOKEN.lastIndex - token.length,
    });
  }
  return [...tokens, { kind: 'end', text: '', at: end }];
}

/** The names a formula reads, each once. */
export const namesOfFormula = (steps: readonly FormulaStep[]): string[] => [
  ...new Set(steps.flatMap((step) => (step.op === 'name' ? [step.name] : []))),
];

const LONGEST_FORMULA = 500;
/** Deeper than any formula of that length can stack its numbers, so that the stack can be made beforehand. */
export const FORMULA_DEPTH = LONGEST_FORMULA;

/** Runs the steps on a stack made beforehand. Division by zero gives 0, so that nothing infinite reaches a sound. */
export function runFormula(
  steps: readonly FormulaStep[],
  valueOf: (name: string) => number,
  stack: Float64Array,
): number {
  let top = -1;
  for (let i = 0; i < steps.length; i++) {
    const step = steps[i];
    switch (step.op) {
      case 'number':
        stack[++top] = step.value;
        break;
      case 'name':
        stack[++top] = valueOf(step.name);
        break;
      case 'negate':
        stack[top] = -stack[top];
        break;
      case 'abs':
        stack[top] = Math.abs(stack[top]);
        break;
      case 'add':
        top--;
        stack[top] += stack[top + 1];
        break;
      case 'subtract':
        top--;
        stack[top] -= stack[top + 1];
        break;
      case 'multiply':
        top--;
        stack[top] *= stack[top + 1];
        break;
      case 'divide':
        top--;
        stack[top] = stack[top + 1] === 0 ? 0 : stack[top] / stack[top + 1];
        break;
      case 'min':
        top--;
        stack[top] = Math.min(stack[top], stack[top + 1]);
        break;
      case 'max':
        top--;
        stack[top] = Math.max(stack[top], stack[top + 1]);
        break;
    }
  }
  return stack[0];
}
