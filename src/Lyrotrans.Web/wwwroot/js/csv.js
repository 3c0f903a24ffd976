/** Rows of texts as CSV (RFC 4180 with line feeds): a cell with a comma, a quote or a line break stands in quotes. */
export function csv(rows) {
  const cell = value => (/[",\r\n]/.test(value) ? `"${String(value).replaceAll('"', '""')}"` : value);
  return rows.map(r => r.map(cell).join(",")).join("\n");
}
