//! Style sheet, scripts and fonts, embedded in the binary.

use axum::Router;
use axum::extract::Path;
use axum::http::header;
use axum::response::{IntoResponse, Response};
use axum::routing::get;
use rust_embed::Embed;

use crate::error::WebError;
use crate::state::App;

#[derive(Embed)]
#[folder = "../../assets/dist"]
struct Dist;

/// Address of an asset, with a part that changes when it does.
pub(crate) fn url(name: &str) -> String {
    let hash = Dist::get(name).map_or(0, |file| {
        file.metadata.sha256_hash()[..6].iter().fold(0u64, |hash, byte| (hash << 8) | u64::from(*byte))
    });
    format!("/assets/{name}?v={hash:012x}")
}

/// An asset as text.
pub(crate) fn text(name: &str) -> Option<String> {
    Dist::get(name).and_then(|file| String::from_utf8(file.data.into_owned()).ok())
}

/// An asset as it is.
pub(crate) fn bytes(name: &str) -> Option<Vec<u8>> {
    Dist::get(name).map(|file| file.data.into_owned())
}

pub(crate) fn routes() -> Router<App> {
    Router::new().route("/assets/{name}", get(serve)).route("/favicon.ico", get(icon))
}

async fn serve(Path(name): Path<String>) -> Result<Response, WebError> {
    let file = Dist::get(&name).ok_or(WebError::NotFound)?;
    let headers = [
        (header::CONTENT_TYPE, file.metadata.mimetype().to_owned()),
        (header::CACHE_CONTROL, "public, max-age=31536000, immutable".to_owned()),
    ];
    Ok((headers, file.data.into_owned()).into_response())
}

async fn icon() -> impl IntoResponse {
    ([(header::CONTENT_TYPE, "image/svg+xml")], include_str!("../templates/pictures/mark.svg"))
}
