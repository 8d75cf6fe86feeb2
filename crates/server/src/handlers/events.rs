//! What happens, told to open windows as server-sent events; between servers it travels by the
//! database's own notices.

use crate::{
    app::Shared,
    store::{CHANNEL, Told},
};
use axum::{
    extract::State,
    response::sse::{Event, KeepAlive, Sse},
};
use futures::{Stream, StreamExt, stream};
use sea_orm::sqlx::postgres::PgListener;
use std::{convert::Infallible, time::Duration};
use tokio::sync::broadcast::error::RecvError;

/// Every change, inspection and handover as it happens.
#[utoipa::path(get, path = "/api/events", responses((status = 200, content_type = "text/event-stream", body = Told)))]
pub async fn events(State(app): State<Shared>) -> Sse<impl Stream<Item = Result<Event, Infallible>>> {
    let stream = stream::unfold(app.events.subscribe(), |mut receiver| async move {
        match receiver.recv().await {
            Ok(told) => Some((Event::default().json_data(&told).ok()?, receiver)),
            // a window that fell behind asks for everything anew
            Err(RecvError::Lagged(_)) => Some((Event::default().event("lagged").data("again"), receiver)),
            Err(RecvError::Closed) => None,
        }
    });
    Sse::new(stream.map(Ok)).keep_alive(KeepAlive::new().interval(Duration::from_secs(15)))
}

/// Listens to the database and passes on what it tells, for as long as the server runs.
pub async fn listen(app: Shared) {
    loop {
        match listener(&app).await {
            Ok(()) => {}
            Err(problem) => tracing::warn!("listening to the database: {problem}; trying again"),
        }
        tokio::time::sleep(Duration::from_secs(1)).await;
    }
}

async fn listener(app: &Shared) -> Result<(), sea_orm::sqlx::Error> {
    let mut listener = PgListener::connect_with(app.store.database.get_postgres_connection_pool()).await?;
    listener.listen(CHANNEL).await?;
    loop {
        // None: the connection was lost and made again; what was told in between is lost, so say so
        match listener.try_recv().await? {
            Some(notice) => {
                if let Ok(told) = serde_json::from_str::<Told>(notice.payload()) {
                    // nobody listening is no fault
                    let _ = app.events.send(told);
                }
            }
            None => tracing::warn!("the database connection for notices was made again"),
        }
    }
}
