//! Until people sign in, the server answers to this machine only: it listens on loopback, checks
//! whom a request was meant for and where it came from, and lets pages load nothing from elsewhere.

use axum::{
    extract::{Request, State},
    http::{HeaderValue, StatusCode, header},
    middleware::Next,
    response::{IntoResponse, Response},
};

/// Scripts, styles, fonts and pictures of our own only.
const POLICY: &str = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data: blob:; font-src 'self'; \
connect-src 'self'; frame-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'self'";

/// The names this server answers to, with its port.
#[derive(Clone)]
pub struct Names(std::sync::Arc<[String; 3]>);

impl Names {
    #[must_use]
    pub fn of_port(port: u16) -> Self {
        Self([format!("127.0.0.1:{port}"), format!("localhost:{port}"), format!("[::1]:{port}")].into())
    }

    fn host(&self, value: &HeaderValue) -> bool {
        self.0.iter().any(|n| value.as_bytes() == n.as_bytes())
    }

    fn origin(&self, value: &HeaderValue) -> bool {
        self.0.iter().any(|n| value.as_bytes().strip_prefix(b"http://") == Some(n.as_bytes()))
    }
}

/// Refuses requests for other hosts (a rebound name) or from other origins (a foreign page), and
/// sets the content policy.
pub async fn guard(State(names): State<Names>, request: Request, next: Next) -> Response {
    let headers = request.headers();
    if !headers.get(header::HOST).is_some_and(|h| names.host(h)) {
        return (StatusCode::MISDIRECTED_REQUEST, "This server answers to its own address on this machine only.")
            .into_response();
    }
    let foreign = headers.get(header::ORIGIN).is_some_and(|o| !names.origin(o))
        || (!request.method().is_safe() && headers.get("sec-fetch-site").is_some_and(|s| s != "same-origin"));
    if foreign {
        return (StatusCode::FORBIDDEN, "Requests from other pages are refused.").into_response();
    }
    let mut response = next.run(request).await;
    let headers = response.headers_mut();
    headers.entry(header::CONTENT_SECURITY_POLICY).or_insert(HeaderValue::from_static(POLICY));
    headers.insert(header::X_CONTENT_TYPE_OPTIONS, HeaderValue::from_static("nosniff"));
    headers.insert(header::REFERRER_POLICY, HeaderValue::from_static("no-referrer"));
    headers.insert("cross-origin-resource-policy", HeaderValue::from_static("same-origin"));
    response
}
