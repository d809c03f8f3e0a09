// The small language of the site's tables: arithmetic over named numbers, comparisons, quantities as typed and as printed. The core
// reads the same texts; a test holds both to the same answers.
(() => {
  const { fixed, tr } = window.Rowan;
  const TOKEN = /\s*(\d+\.?\d*(?:[eE][+-]?\d+)?|\.\d+|[A-Za-z_]\w*|\*\*|[-+*/(),])/y;
  const CALLS = { max: Math.max, min: Math.min, exp: Math.exp, ln: Math.log, sqrt: Math.sqrt, sin: Math.sin, cos: Math.cos };
  const made = new Map();

  function tokens(text) {
    const found = [];
    TOKEN.lastIndex = 0;
    while (TOKEN.lastIndex < text.trimEnd().length) {
      const match = TOKEN.exec(text);
      if (!match) throw new Error(`“${text}” cannot be read`);
      found.push(match[1]);
    }
    return found;
  }
  // a formula as a function of its symbols; it gives NaN where one is missing
  function parse(text) {
    const left = tokens(text);
    const take = (sign) => (left[0] === sign ? left.shift() : undefined);
    function atom() {
      if (take("(")) { const inner = sum(); take(")"); return inner; }
      const word = left.shift();
      if (/^[\d.]/.test(word)) { const value = Number(word); return () => value; }
      if (!take("(")) return (symbols) => (word in symbols ? symbols[word] : NaN);
      const args = [sum()];
      while (take(",")) args.push(sum());
      take(")");
      return (symbols) => { const values = args.map((one) => one(symbols)); return values.some(Number.isNaN) ? NaN : CALLS[word](...values); };
    }
    function power() {
      const base = atom();
      if (!take("**")) return base;
      const raised = unary();
      return (symbols) => base(symbols) ** raised(symbols);
    }
    function unary() {
      if (!take("-")) return power();
      const value = unary();
      return (symbols) => -value(symbols);
    }
    function chain(next, signs) {
      let value = next();
      while (signs[left[0]]) {
        const act = signs[left.shift()];
        const [one, other] = [value, next()];
        value = (symbols) => act(one(symbols), other(symbols));
      }
      return value;
    }
    const product = () => chain(unary, { "*": (a, b) => a * b, "/": (a, b) => a / b });
    const sum = () => chain(product, { "+": (a, b) => a + b, "-": (a, b) => a - b });
    return sum();
  }
  // null where a symbol is missing or nothing comes of it
  function valueOf(text, symbols) {
    if (!text) return null;
    if (!made.has(text)) made.set(text, parse(text));
    const value = made.get(text)(symbols);
    return Number.isFinite(value) ? value : null;
  }
  const COMPARED = { "<": (a, b) => a < b, "<=": (a, b) => a <= b, ">": (a, b) => a > b, ">=": (a, b) => a >= b };
  function holds(when, symbols) {
    return when.split(" and ").every((clause) => {
      const [left, sign, right] = clause.split(/\s(<=|>=|<|>)\s/);
      const [one, other] = [valueOf(left, symbols), valueOf(right, symbols)];
      return one !== null && other !== null && COMPARED[sign](one, other);
    });
  }

  function printedNumber(value, decimals) {
    const [whole, mark, ...rest] = fixed(Math.abs(value), decimals).split(/([.,])/);
    const text = whole.replace(/\B(?=(\d{3})+$)/g, "\u202f") + (mark ? mark + rest.join("") : "");
    return value < 0 && /[1-9]/.test(text) ? `\u2212${text}` : text;
  }
  function shown(value, unit) {
    const number = printedNumber((value - unit.offset) / unit.factor, unit.decimals);
    if (!unit.label) return number;
    return unit.label === "°" ? number + unit.label : `${number}\u00a0${unit.label}`;
  }
  // a reading in its field: as many decimals as were read, up to two more than are usual
  function shownRead(value, unit) {
    const number = (value - unit.offset) / unit.factor;
    let { decimals } = unit;
    while (decimals < unit.decimals + 2 && Math.abs(Number(number.toFixed(decimals)) - number) > 1e-3 * Math.abs(number)) decimals += 1;
    return printedNumber(number, decimals);
  }
  // the SI value of what was typed; a unit in the text wins, minutes and seconds are read as a clock shows them. A text says why not.
  function typed(text, unit) {
    const cleaned = text.trim().replace(/\u2212/g, "-").replace(/(\d),(\d)/, "$1.$2").toLowerCase();
    const clock = cleaned.match(/^(\d+):(\d\d)$/);
    if (clock && unit.typed.s) return Number(clock[1]) * 60 + Number(clock[2]);
    const match = cleaned.match(/^([-+]?(?:\d+\.?\d*|\.\d+))\s*([^\d\s].*)?$/);
    if (!match) return tr("“{text}” is no number", { text });
    if (!match[2]) return Number(match[1]) * unit.factor + unit.offset;
    const found = unit.typed[match[2]];
    if (!found) return tr("“{text}” is no unit of this", { text: match[2] });
    return Number(match[1]) * found[0] + found[1];
  }
  window.Rowan.formulas = { holds, shown, shownRead, typed, valueOf };
})();
