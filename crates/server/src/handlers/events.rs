//! What happens, told to open windows as server-sent events; between servers it travels by the
//! database's own notices.

use crate::{
    app::Shared,
    store::{CHANNEL, Happened, Told},
};
use axum::{
    extract::State,
    response::sse::{Event, KeepAlive, Sse},
};
use futures::{Stream, StreamExt, stream};
use sea_orm::sqlx::postgres::PgListener;
use std::{convert::Infallible, time::Duration};
use tokio::sync::broadcast::error::RecvError;

/// What a server hears from the database.
#[derive(Clone, Debug)]
pub enum Heard {
    Told(Told),
    /// It could not listen for a while: anything may have happened.
    Nothing,
}

/// Every change, inspection and handover as it happens.
#[utoipa::path(get, path = "/api/events", responses((status = 200, content_type = "text/event-stream", body = Told)))]
pub async fn events(State(app): State<Shared>) -> Sse<impl Stream<Item = Result<Event, Infallible>>> {
    let stream = stream::unfold(app.events.subscribe(), |mut receiver| async move {
        // a window that fell behind asks for everything anew
        let again = Event::default().event("lagged").data("again");
        match receiver.recv().await {
            Ok(Heard::Told(told)) => Some((Event::default().json_data(&told).ok()?, receiver)),
            Ok(Heard::Nothing) | Err(RecvError::Lagged(_)) => Some((again, receiver)),
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
    // what was told before is not known
    say(app, Heard::Nothing).await;
    loop {
        match listener.try_recv().await? {
            Some(notice) => {
                if let Ok(told) = serde_json::from_str::<Told>(notice.payload()) {
                    say(app, Heard::Told(told)).await;
                }
            }
            None => {
                tracing::warn!("the database connection for notices was made again");
                say(app, Heard::Nothing).await;
            }
        }
    }
}

async fn say(app: &Shared, heard: Heard) {
    let of_shop = match &heard {
        Heard::Told(told) => told.what == Happened::Shop,
        Heard::Nothing => true,
    };
    if of_shop && let Err(problem) = app.read_zone().await {
        tracing::warn!("the shop's time zone can't be read: {problem}");
    }
    // nobody listening is no fault
    drop(app.events.send(heard));
}
