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

/// Why a request isn't answered.
fn refused(names: &Names, request: &Request) -> Option<(StatusCode, &'static str)> {
    let headers = request.headers();
    let mut hosts = headers.get_all(header::HOST).iter();
    // one host, and no other one in the address itself
    let own = hosts.next().is_some_and(|h| names.host(h))
        && hosts.next().is_none()
        && request.uri().authority().is_none_or(|a| names.0.iter().any(|n| n == a.as_str()));
    if !own {
        return Some((StatusCode::MISDIRECTED_REQUEST, "This server answers to its own address on this machine only."));
    }
    let from = headers.get("sec-fetch-site");
    // a page may lead here from anywhere; what is worked out is for our own pages
    let asks = !request.method().is_safe() || request.uri().path().starts_with("/api/");
    let foreign = headers.get(header::ORIGIN).is_some_and(|o| !names.origin(o))
        || (asks && from.is_some_and(|s| s != "same-origin" && !(s == "none" && request.method().is_safe())));
    foreign.then_some((StatusCode::FORBIDDEN, "Requests from other pages are refused."))
}

/// Refuses requests for other hosts (a rebound name) or from other origins (a foreign page), and
/// sets the content policy.
pub async fn guard(State(names): State<Names>, request: Request, next: Next) -> Response {
    let mut response = match refused(&names, &request) {
        Some(refused) => refused.into_response(),
        None => next.run(request).await,
    };
    let headers = response.headers_mut();
    headers.entry(header::CONTENT_SECURITY_POLICY).or_insert(HeaderValue::from_static(POLICY));
    headers.insert(header::X_CONTENT_TYPE_OPTIONS, HeaderValue::from_static("nosniff"));
    headers.insert(header::REFERRER_POLICY, HeaderValue::from_static("no-referrer"));
    headers.insert("cross-origin-resource-policy", HeaderValue::from_static("same-origin"));
    response
}
