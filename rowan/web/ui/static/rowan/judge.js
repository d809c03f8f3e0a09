// A step judged on the phone, by the tables that came with the page: what was read, what follows, what each row says of it.
(() => {
  const { formulas: { holds, shown, valueOf }, tr } = window.Rowan;
  const ORDER = ["stop", "fix", "mind", "pass"];
  const SLACK = 1e-9;

  // the last word of each field, by the time it was made
  function readings(entries) {
    const read = {};
    for (const entry of entries) {
      if (entry.kind === "tick" && !entry.value) delete read[entry.field];
      else if ((entry.kind === "read" || entry.kind === "tick") && entry.value !== null) read[entry.field] = entry.value;
    }
    return read;
  }
  function symbolsOf(data, entries) {
    const found = { ...data.constants, ...readings(entries) };
    for (const [name, formula] of data.derived) {
      if (name in found) continue;
      const value = valueOf(formula, found);
      if (value !== null) found[name] = value;
    }
    return found;
  }
  function byRule(rule, symbols, dimensions) {
    if (!holds(rule.when, symbols)) return null;
    let { words } = rule;
    for (const [name, [formula, dimension]] of Object.entries(rule.amounts)) {
      const value = valueOf(formula, symbols);
      if (value === null) return null;
      words = words.replaceAll(`{${name}}`, shown(value, dimensions[dimension]));
    }
    return { key: rule.key, level: rule.level, words };
  }
  function byWindow(field, symbols, dimensions) {
    const read = symbols[field.key];
    if (read === undefined || !field.level || !field.dimension) return null;
    const [low, high] = [valueOf(field.low, symbols), valueOf(field.high, symbols)];
    const under = low !== null && read < low - SLACK;
    if (!under && !(high !== null && read > high + SLACK)) return null;
    const unit = dimensions[field.dimension];
    const limit = under ? tr("{name}: {read}, at least {limit} is right.") : tr("{name}: {read}, at most {limit} is right.");
    return { key: `${field.key}_out`, level: field.level, words: tr(limit, { name: field.name, read: shown(read, unit), limit: shown(under ? low : high, unit) }) };
  }
  function judged(step, symbols, dimensions) {
    const missing = step.fields.filter((field) => field.needed && !(field.key in symbols) && !(field.instead in symbols)).map((field) => field.key);
    const said = [...step.rules.map((rule) => byRule(rule, symbols, dimensions)), ...step.fields.map((field) => byWindow(field, symbols, dimensions))]
      .filter(Boolean)
      .sort((one, other) => ORDER.indexOf(one.level) - ORDER.indexOf(other.level));
    const gravest = said.length ? said[0].level : "pass";
    if (gravest !== "stop" && gravest !== "fix" && missing.length) return { level: null, said: said.filter((one) => one.level !== "pass"), missing };
    if (gravest === "stop" || gravest === "fix") return { level: gravest, said: said.filter((one) => one.level !== "pass"), missing };
    return { level: gravest, said, missing };
  }
  window.Rowan.judge = { judged, symbolsOf };
})();
