//! Files that leave by a page.

use axum::http::header;
use axum::response::{IntoResponse, Response};

/// A file by its name, which says what kind it is.
pub(crate) fn file(name: &str, content: impl Into<Vec<u8>>) -> Response {
    let kind = match name.rsplit('.').next() {
        Some("csv") => "text/csv; charset=utf-8; header=present",
        Some("ics") => "text/calendar; charset=utf-8",
        Some("pdf") => "application/pdf",
        Some("json") => "application/json",
        Some("xlsx") => "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
        Some("zip") => "application/zip",
        _ => "application/octet-stream",
    };
    let named = format!("attachment; filename=\"{name}\"");
    let heads = [(header::CONTENT_TYPE, kind.to_owned()), (header::CONTENT_DISPOSITION, named)];
    (heads, content.into()).into_response()
}

/// Somebody's name as part of a file's: a header takes no other letters.
pub(crate) fn part(name: &str) -> String {
    name.chars().map(|c| if c.is_ascii_alphanumeric() { c } else { '-' }).collect()
}
