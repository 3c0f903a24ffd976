/**
 * Rows of texts as CSV (RFC 4180 with line feeds): a cell with a comma, a quote or a line break stands in quotes,
 * and what a table program would take for a formula has an apostrophe before it.
 */
export function csv(rows) {
  const formula = text => /^'*[=+\-@\t\r]/.test(text) && !/^[+-]?(\d+\.?\d*|\.\d+)$/.test(text),
    plain = value => (formula(String(value)) ? `'${value}` : value),
    quoted = value => (/[",\r\n]/.test(value) ? `"${String(value).replaceAll('"', '""')}"` : value),
    cell = value => quoted(plain(value));
  return rows.map(r => r.map(cell).join(",")).join("\n");
}
