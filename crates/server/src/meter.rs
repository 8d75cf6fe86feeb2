//! What a server counts of itself, for whoever watches over it.

use crate::app::Shared;
use axum::{
    extract::{MatchedPath, Request, State},
    middleware::Next,
    response::Response,
};
use prometheus::{Encoder, HistogramOpts, HistogramVec, IntCounterVec, IntGauge, Opts, Registry, TextEncoder};
use std::time::Instant;

/// Bounds of the answers' times that are told apart, s.
const TIMES: [f64; 9] = [0.005, 0.02, 0.05, 0.1, 0.25, 1.0, 5.0, 30.0, 120.0];

pub struct Meter {
    registry: Registry,
    answers: IntCounterVec,
    times: HistogramVec,
    /// Heavy work that is under way.
    pub(crate) working: IntGauge,
    /// Files that are being read, each in a process of its own.
    pub(crate) reading: IntGauge,
    /// Tasks in the queue of the database, those under way among them.
    pub(crate) queued: IntGauge,
}

impl Meter {
    /// # Panics
    /// Never: the names are fixed, and each is taken once.
    #[must_use]
    pub fn new() -> Self {
        let registry = Registry::new();
        let gauge = |name: &str, help: &str| {
            let gauge = IntGauge::new(name, help).expect("a sound name");
            registry.register(Box::new(gauge.clone())).expect("each name once");
            gauge
        };
        let of = ["method", "path", "status"];
        let answers = IntCounterVec::new(Opts::new("tinbadge_answers_total", "Requests answered."), &of);
        let times = HistogramOpts::new("tinbadge_answer_seconds", "Time from a request to its answer's first byte.");
        let times = HistogramVec::new(times.buckets(TIMES.to_vec()), &of[..2]);
        let (answers, times) = (answers.expect("sound names"), times.expect("sound names"));
        registry.register(Box::new(answers.clone())).expect("each name once");
        registry.register(Box::new(times.clone())).expect("each name once");
        let working = gauge("tinbadge_working", "Heavy work that is under way.");
        let reading = gauge("tinbadge_reading", "Files that are being read.");
        let queued = gauge("tinbadge_queued", "Tasks in the queue of the database.");
        Self { answers, times, working, reading, queued, registry }
    }

    /// All figures in the text format of Prometheus.
    #[must_use]
    pub fn told(&self) -> Vec<u8> {
        let mut told = Vec::new();
        // a buffer takes what is written
        let _ = TextEncoder::new().encode(&self.registry.gather(), &mut told);
        told
    }
}

impl Default for Meter {
    fn default() -> Self {
        Self::new()
    }
}

/// Something that is under way until this is dropped.
pub(crate) struct UnderWay(IntGauge);

impl UnderWay {
    pub(crate) fn on(gauge: &IntGauge) -> Self {
        gauge.inc();
        Self(gauge.clone())
    }
}

impl Drop for UnderWay {
    fn drop(&mut self) {
        self.0.dec();
    }
}

/// Counts an answer under the path that its handler stands at, and writes it down at the level `info`.
pub(crate) async fn measured(State(app): State<Shared>, request: Request, next: Next) -> Response {
    let begun = Instant::now();
    let path = request.extensions().get::<MatchedPath>().map_or("other", MatchedPath::as_str).to_owned();
    let method = request.method().clone();
    let answer = next.run(request).await;
    let (status, took) = (answer.status(), begun.elapsed());
    // what is no method of ours is one
    let method = if ["GET", "POST", "PUT", "DELETE"].contains(&method.as_str()) { method.as_str() } else { "other" };
    app.meter.answers.with_label_values(&[method, &path, status.as_str()]).inc();
    app.meter.times.with_label_values(&[method, &path]).observe(took.as_secs_f64());
    tracing::info!(method, path, status = status.as_u16(), ms = took.as_millis() as u64, "answered");
    answer
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_under_way_is_counted_until_it_ends() {
        let meter = Meter::new();
        let told = || String::from_utf8(meter.told()).unwrap();
        let (one, other) = (UnderWay::on(&meter.working), UnderWay::on(&meter.working));
        assert!(told().contains("tinbadge_working 2"), "{}", told());
        drop((one, other));
        assert!(told().contains("tinbadge_working 0"), "{}", told());
    }
}
