//! The front end's files. Every address that is not a file is a place in the application.

use axum::{
    http::{StatusCode, Uri, header},
    response::{IntoResponse, Response},
};
use rust_embed::Embed;

#[derive(Embed)]
#[folder = "../../web/dist"]
struct Dist;

pub async fn page(uri: Uri) -> Response {
    let path = uri.path().trim_start_matches('/');
    if path.starts_with("api/") {
        return (StatusCode::NOT_FOUND, "no such address").into_response();
    }
    // a page of an older version asks for files that are gone
    if path.starts_with("assets/") && Dist::get(path).is_none() {
        return (StatusCode::NOT_FOUND, "no such file; load the page anew").into_response();
    }
    let (name, file) = match Dist::get(path) {
        Some(file) if !path.is_empty() => (path, Some(file)),
        _ => ("index.html", Dist::get("index.html")),
    };
    let Some(file) = file else {
        return (StatusCode::SERVICE_UNAVAILABLE, "The front end has not been built; run ./tinbadge demo.")
            .into_response();
    };
    let kind = match name.rsplit('.').next() {
        Some("html") => "text/html; charset=utf-8",
        Some("js") => "text/javascript; charset=utf-8",
        Some("css") => "text/css; charset=utf-8",
        Some("svg") => "image/svg+xml",
        Some("woff2") => "font/woff2",
        Some("txt") => "text/plain; charset=utf-8",
        _ => "application/octet-stream",
    };
    // names of built files carry their content's hash
    let keep = if name.starts_with("assets/") { "public, max-age=31536000, immutable" } else { "no-cache" };
    ([(header::CONTENT_TYPE, kind), (header::CACHE_CONTROL, keep)], file.data.into_owned()).into_response()
}
