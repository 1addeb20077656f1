/** Works out what was typed into a number field: + − * / and brackets; a comma counts as a point. Null when it is no sum. */
export function calculate(text: string): number | null {
  const s = text.replace(/\s+/g, "").replace(/,/g, ".").replace(/−/g, "-").replace(/[×]/g, "*").replace(/[÷]/g, "/");
  let i = 0;
  const sum = (): number => {
    let v = product();
    while (s[i] === "+" || s[i] === "-") v = s[i++] === "+" ? v + product() : v - product();
    return v;
  };
  const product = (): number => {
    let v = factor();
    while (s[i] === "*" || s[i] === "/") v = s[i++] === "*" ? v * factor() : v / factor();
    return v;
  };
  const factor = (): number => {
    if (s[i] === "-") return (i++, -factor());
    if (s[i] === "+") return (i++, factor());
    if (s[i] === "(") {
      i++;
      const v = sum();
      if (s[i++] !== ")") return NaN;
      return v;
    }
    const m = /^\d*\.?\d+|^\d+\.?/.exec(s.slice(i));
    if (!m) return NaN;
    i += m[0].length;
    return Number(m[0]);
  };
  const v = sum();
  return s && i === s.length && Number.isFinite(v) ? v : null;
}
