//! The server: jobs kept in PostgreSQL, the work of the core crates behind an HTTP interface, the
//! front end's files. It holds nothing that is not in the database but what can be worked out again.

pub mod app;
mod campaign;
mod changing;
mod day;
mod differences;
pub mod edits;
pub mod entity;
mod exact;
pub mod guard;
pub mod handlers;
mod merge;
pub mod meshes;
mod meter;
pub mod migration;
mod newest;
mod overtaken;
pub mod picture;
pub mod problem;
mod queue;
pub mod readings;
pub mod records;
pub mod rows;
pub mod steel;
pub mod store;
mod turns;
mod verdict;
pub mod views;
mod waiting;

use app::{App, Shared};
use axum::{Router, extract::DefaultBodyLimit, middleware};
use guard::{Names, guard};
use handlers::{
    artwork, callouts as callout_sheet, campaigns, events, exact as exact_files, faces, facts, handoff, health,
    history, inspect, job_files, jobs, letters, looked_at, marks, mends, note, pages, part, patterns, reading,
    records as kept_records, revision, roster, rows as all_rows, section, sheets, shop, tool, tool_side,
};
use sea_orm::{ConnectOptions, ConnectionTrait, Database, TransactionTrait};
use sea_orm_migration::MigratorTrait;
use std::{net::Ipv4Addr, sync::Arc, time::Duration};
use store::Store;
use tokio::net::TcpListener;
use tokio_util::sync::CancellationToken;
use tower_http::compression::{
    CompressionLayer,
    predicate::{DefaultPredicate, NotForContentType, Predicate},
};
use utoipa::openapi::{Content, OpenApi, Ref, RefOr, ResponseBuilder};
use utoipa_axum::{router::OpenApiRouter, routes};

/// What a server needs to know.
pub struct Settings {
    /// PostgreSQL, as a URL.
    pub database: String,
    /// On loopback; 0 takes a free one.
    pub port: u16,
    /// Begin the demo's jobs in an empty database.
    pub demo: bool,
    /// Tasks of the queue that are done here at once; with none they are left to workers elsewhere.
    pub at_once: usize,
}

/// Largest change or question that is taken, bytes: a roster of 5,000 rows has 1 MB, the most detailed artwork 2.
const LARGEST_BODY: usize = 16 << 20;

fn api() -> OpenApiRouter<Shared> {
    let files = OpenApiRouter::new()
        .routes(routes!(jobs::begin))
        .routes(routes!(jobs::keep_part))
        .routes(routes!(job_files::of_archive))
        .routes(routes!(revision::propose_revision))
        .routes(routes!(roster::read))
        .routes(routes!(artwork::read_artwork))
        .routes(routes!(letters::read_letters))
        .layer(DefaultBodyLimit::max(solid::formats::LARGEST_FILE));
    OpenApiRouter::new()
        .merge(files)
        .routes(routes!(jobs::list))
        .routes(routes!(jobs::of_file))
        .routes(routes!(jobs::one, jobs::remove))
        .routes(routes!(jobs::reading))
        .routes(routes!(jobs::restore))
        .routes(routes!(jobs::put_in_folder))
        .routes(routes!(job_files::as_archive))
        .routes(routes!(jobs::change))
        .routes(routes!(jobs::undo))
        .routes(routes!(jobs::redo))
        .routes(routes!(history::history))
        .routes(routes!(history::back))
        .routes(routes!(history::differences))
        .routes(routes!(history::copy))
        .routes(routes!(jobs::picture))
        .routes(routes!(part::mesh))
        .routes(routes!(part::parting))
        .routes(routes!(section::of_part))
        .routes(routes!(section::through_mark))
        .routes(routes!(section::circle))
        .routes(routes!(section::concentric))
        .routes(routes!(revision::confirm_revision))
        .routes(routes!(tool::tool))
        .routes(routes!(tool::map))
        .routes(routes!(tool::probe))
        .routes(routes!(tool::materials))
        .routes(routes!(part::piece))
        .routes(routes!(marks::seat))
        .routes(routes!(marks::placement))
        .routes(routes!(note::read_note))
        .routes(routes!(marks::plates))
        .routes(routes!(inspect::solid))
        .routes(routes!(inspect::outcome))
        .routes(routes!(mends::of_finding))
        .routes(routes!(mends::of_all))
        .routes(routes!(looked_at::marked_map))
        .routes(routes!(looked_at::letter_flat))
        .routes(routes!(reading::of_mark))
        .routes(routes!(reading::picture))
        .routes(routes!(kept_records::records, kept_records::make_record))
        .routes(routes!(kept_records::record))
        .routes(routes!(kept_records::since))
        .routes(routes!(kept_records::repeat))
        .routes(routes!(kept_records::file))
        .routes(routes!(marks::strip))
        .routes(routes!(patterns::patterns))
        .routes(routes!(patterns::pattern))
        .routes(routes!(patterns::keep_pattern))
        .routes(routes!(patterns::set_pattern_gone))
        .routes(routes!(sheets::sheets))
        .routes(routes!(sheets::keep_sheet))
        .routes(routes!(sheets::set_sheet_gone))
        .routes(routes!(roster::write))
        .routes(routes!(roster::said))
        .routes(routes!(all_rows::rows))
        .routes(routes!(all_rows::begin_rows, all_rows::stop_rows))
        .routes(routes!(all_rows::archive))
        .routes(routes!(handoff::documents, handoff::hand_over))
        .routes(routes!(handoff::document))
        .routes(routes!(exact_files::make, exact_files::file))
        .routes(routes!(callout_sheet::callouts))
        .routes(routes!(tool_side::tool_side))
        .routes(routes!(tool_side::tool_side_file))
        .routes(routes!(tool_side::steel_changes))
        .routes(routes!(tool_side::steel_picture))
        .routes(routes!(faces::faces))
        .routes(routes!(faces::own_face, faces::keep_own_face))
        .routes(routes!(faces::set_own_face_gone))
        .routes(routes!(facts::limits))
        .routes(routes!(facts::length))
        .routes(routes!(campaigns::campaigns, campaigns::begin_campaign))
        .routes(routes!(campaigns::campaign))
        .routes(routes!(campaigns::take))
        .routes(routes!(campaigns::stop_campaign))
        .routes(routes!(campaigns::go_on))
        .routes(routes!(shop::shop))
        .routes(routes!(shop::set_zone))
        .routes(routes!(events::events))
        .routes(routes!(health::health))
        .routes(routes!(health::ready))
        .routes(routes!(health::metrics))
}

/// The description of the HTTP interface, from which the front end's client is generated.
#[must_use]
pub fn description() -> OpenApi {
    let mut description = api().into_openapi();
    description.info.title = "Tin Badge".into();
    description.info.version = env!("CARGO_PKG_VERSION").into();
    told_as_problems(&mut description);
    description
}

/// Answers that say no have a media type of their own, and every request may have one.
fn told_as_problems(description: &mut OpenApi) {
    let refusal = Ref::from_schema_name("Refusal");
    let told = ResponseBuilder::new()
        .description("What is wrong, where, and what to do.")
        .content(problem::PROBLEM, Content::new(Some(refusal)))
        .build();
    for path in description.paths.paths.values_mut() {
        let all = [&mut path.get, &mut path.post, &mut path.put, &mut path.delete];
        for operation in all.into_iter().filter_map(Option::as_mut) {
            let answers = &mut operation.responses.responses;
            for (_, answer) in answers.iter_mut().filter(|(status, _)| status.starts_with(['4', '5'])) {
                *answer = RefOr::T(told.clone());
            }
            answers.insert("default".into(), RefOr::T(told.clone()));
        }
    }
}

fn router(app: Shared, names: Names) -> Router {
    let (router, _) = api().split_for_parts();
    let packed = DefaultPredicate::new()
        .and(NotForContentType::const_new("model/3mf"))
        .and(NotForContentType::const_new("application/zip"));
    router
        .fallback(pages::page)
        .layer(DefaultBodyLimit::max(LARGEST_BODY))
        .layer(CompressionLayer::new().compress_when(packed))
        .layer(middleware::from_fn_with_state(names, guard))
        .layer(middleware::from_fn_with_state(app.clone(), meter::measured))
        .layer(middleware::from_fn(problem::in_one_shape))
        .with_state(app)
}

/// Serves until `stop` is done. `ready` is told the port.
///
/// # Errors
/// The database can't be reached or brought up to date, or the port is taken.
pub async fn serve(
    settings: Settings,
    ready: impl FnOnce(u16),
    stop: impl Future<Output = ()> + Send + 'static,
) -> Result<(), ServeError> {
    let app = open(settings.database, settings.demo).await?;
    let listener = TcpListener::bind((Ipv4Addr::LOCALHOST, settings.port))
        .await
        .map_err(|source| ServeError::Port { port: settings.port, source })?;
    let port = listener.local_addr().map_err(|source| ServeError::Port { port: settings.port, source })?.port();
    let listening = tokio::spawn(events::listen(app.clone()));
    let ending = CancellationToken::new();
    let working =
        (settings.at_once > 0).then(|| tokio::spawn(queue::work(app.clone(), settings.at_once, ending.clone())));
    ready(port);
    // open event streams would hold a graceful end for ever, so the end is plain: every change that
    // was acknowledged is in the database
    tokio::select! {
        served = async { axum::serve(listener, router(app, Names::of_port(port))).await } => served.map_err(ServeError::Serving)?,
        () = stop => {}
    }
    listening.abort();
    if let Some(working) = working {
        ending.cancel();
        // what is not done goes back into the queue, if that can be said in time
        let _ = tokio::time::timeout(Duration::from_secs(1), working).await;
    }
    Ok(())
}

/// Works through the queue until `stop` is done, so many tasks at once.
///
/// # Errors
/// The database can't be reached or brought up to date.
pub async fn work(database: String, at_once: usize, stop: impl Future<Output = ()>) -> Result<(), ServeError> {
    let app = open(database, false).await?;
    let ending = CancellationToken::new();
    // what is set for the shop is heard of here, too
    let listening = tokio::spawn(events::listen(app.clone()));
    let mut working = tokio::spawn(queue::work(app, at_once.max(1), ending.clone()));
    tokio::select! {
        _ = &mut working => {}
        () = stop => {
            ending.cancel();
            let _ = tokio::time::timeout(Duration::from_secs(1), working).await;
        }
    }
    listening.abort();
    Ok(())
}

/// The database brought up to this version, by one of those that start at the same time, with what is shared around it.
async fn open(database: String, demo: bool) -> Result<Shared, ServeError> {
    /// Drawn once; nobody else in this database takes it.
    const STARTING: i64 = 0x7469_6e62_6164;
    let mut options = ConnectOptions::new(database);
    // who asks hears soon that the database is gone
    let patience = Duration::from_secs(5);
    options.max_connections(16).acquire_timeout(patience).connect_timeout(patience).sqlx_logging(false);
    let database = Database::connect(options).await.map_err(ServeError::Database)?;
    let app = Arc::new(App::new(Store::new(database.clone())));
    let starting = database.begin().await.map_err(ServeError::Database)?;
    let lock = format!("SELECT pg_advisory_xact_lock({STARTING})");
    starting.execute_unprepared(&lock).await.map_err(ServeError::Database)?;
    migration::Migrator::up(&database, None).await.map_err(ServeError::Database)?;
    queue::prepare(&app).await.map_err(ServeError::Queue)?;
    let swept = app.store.sweep().await.map_err(|e| ServeError::Sweep(e.to_string()))?;
    if swept > 0 {
        tracing::info!("{swept} part files that no job is made of were removed");
    }
    app.read_zone().await.map_err(|e| ServeError::Zone(e.to_string()))?;
    if demo {
        jobs::demo(&app).await.map_err(|e| ServeError::Demo(e.to_string()))?;
    }
    starting.commit().await.map_err(ServeError::Database)?;
    Ok(app)
}

#[derive(Debug, thiserror::Error)]
pub enum ServeError {
    #[error("the database can't be used: {0}")]
    Database(sea_orm::DbErr),
    #[error("part files that no job is made of could not be removed: {0}")]
    Sweep(String),
    #[error("the shop's time zone can't be read: {0}")]
    Zone(String),
    #[error("the queue in the database can't be made: {0}")]
    Queue(String),
    #[error("port {port} can't be opened: {source}")]
    Port { port: u16, source: std::io::Error },
    #[error("the demo could not be loaded: {0}")]
    Demo(String),
    #[error("serving stopped: {0}")]
    Serving(std::io::Error),
}
