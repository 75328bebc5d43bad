//! Cells of CSV files that people open in a spreadsheet.

/// A cell that no spreadsheet takes for a formula: one that would begin one is led by an apostrophe (OWASP, CSV
/// injection).
pub fn safe(cell: &str) -> String {
    if cell.starts_with(['=', '+', '-', '@', '\t', '\r', '\'']) { format!("'{cell}") } else { cell.to_owned() }
}

/// What a safe cell says.
pub fn plain(cell: &str) -> &str {
    cell.strip_prefix('\'').unwrap_or(cell)
}
