//! What the history of a job weighs in the database, and that each of its states is read back as it was.

use anyhow::{Context, Result, ensure};
use browser_tests::Cluster;
use sea_orm::Database;
use sea_orm_migration::MigratorTrait;
use server::{
    migration::Migrator,
    store::{By, Entry, Of, Store},
};
use trade::{Column, ColumnKind, Job, Mark, Roster, Row};

fn job(rows: u32) -> Job {
    let column = |name: &str| Column { name: name.into(), kind: ColumnKind::Text };
    let row = |id: u32| Row {
        id,
        cells: [
            format!("VB-2040-{id:04}"),
            format!("cavity {id}"),
            "PA66-GF30, natural".into(),
            format!("{}", id * 7919),
        ]
        .into(),
    };
    let roster = Roster {
        columns: ["part number", "cavity", "material", "order"].map(column).into(),
        rows: (1..=rows).map(row).collect(),
    };
    Job { name: "Valve body".into(), roster: roster.into(), marks: vec![Mark::default()], ..Job::default() }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_thousand_steps_of_a_number_beside_five_thousand_rows_add_less_than_5_mb() -> Result<()> {
    let cluster = Cluster::start(false);
    let database = Database::connect(cluster.url()).await?;
    Migrator::up(&database, None).await?;
    let store = Store::new(database.clone());
    let mut now = job(5000);
    let id = store.create(&now, "A. Tester").await?;
    let weight =
        || -> Result<u64> { Ok(cluster.asked("tinbadge", "select pg_total_relation_size('change')").parse()?) };
    let before = weight()?;
    let mut states = vec![(store.standing(id).await?.state, now.clone())];
    for step in 1..=1000 {
        // one number of a mark, and every tenth time a cell of one row
        now.marks[0].relief.height = 0.2 + f64::from(step) / 1000.0;
        if step % 10 == 0 {
            std::sync::Arc::make_mut(&mut now.roster).rows[step as usize].cells[1] = format!("cavity {step}.");
        }
        let entry = Entry { by: By::plainly("A. Tester"), label: "mark-1: relief height", of: Of::Itself };
        let from = states.last().context("a state")?.0;
        ensure!(store.keep_change(id, from, entry, now.clone()).await?);
        states.push((store.standing(id).await?.state, now.clone()));
    }
    let added = weight()? - before;
    ensure!(added < 5_000_000, "{added} bytes");
    println!("a thousand steps add {added} bytes");
    // by somebody who has seen none of them
    let store = Store::new(database);
    for at in [0, 1, 2, 199, 200, 201, 202, 203, 402, 777, 1000] {
        let (state, job) = &states[at];
        ensure!(store.state_of(id, *state).await?.0 == *job, "state {at}");
    }
    ensure!(store.standing(id).await?.job == now);
    Ok(())
}

/// Part files are there as long as a state of a job is made of them, and a day longer.
#[tokio::test(flavor = "multi_thread")]
async fn part_files_stay_while_a_job_is_made_of_them_and_others_are_swept() -> Result<()> {
    let cluster = Cluster::start(false);
    let database = Database::connect(cluster.url()).await?;
    Migrator::up(&database, None).await?;
    let store = Store::new(database);
    for sha256 in ["first", "second", "looked at", "left"] {
        store.keep(sha256, b"solid").await?;
    }
    let of = |sha256: &str| {
        let mut job = job(1);
        job.part.sha256 = Some(sha256.into());
        job
    };
    let id = store.create(&of("first"), "A. Tester").await?;
    let entry = Entry { by: By::plainly("A. Tester"), label: "newer revision of the part", of: Of::Itself };
    let begun = store.standing(id).await?.state;
    ensure!(store.keep_change(id, begun, entry, of("second")).await?);
    // a job of a file that is not kept is not made
    ensure!(store.create(&of("never kept"), "A. Tester").await.is_err());
    cluster.sql("tinbadge", "update blob set at = at - interval '2 days' where sha256 <> 'looked at'");
    ensure!(store.sweep().await? == 1);
    ensure!(
        cluster.asked("tinbadge", "select string_agg(sha256, ',' order by sha256) from blob")
            == "first,looked at,second"
    );
    // who looks at it again has a day once more
    cluster.sql("tinbadge", "update blob set at = at - interval '2 days'");
    store.keep("looked at", b"solid").await?;
    ensure!(store.sweep().await? == 0 && store.kept("first").await? == b"solid");
    Ok(())
}

/// What version 6 of the tables kept: undo and redo were known by where they led, and part files by the documents alone.
#[tokio::test(flavor = "multi_thread")]
async fn a_database_of_an_earlier_version_keeps_its_steps_and_its_part_files() -> Result<()> {
    let cluster = Cluster::start(false);
    let database = Database::connect(cluster.url()).await?;
    Migrator::up(&database, Some(6)).await?;
    let id = "0b6f6c7e-6f0a-4a39-9d9c-0f6f5d3f7a11";
    let mut job = job(2);
    job.part.sha256 = Some("solid".into());
    // begun, changed twice, both undone, the first redone
    let rows = [
        (1, "null", 1, "job begun", Some(0.2)),
        (2, "1", 2, "first", Some(0.3)),
        (3, "2", 3, "second", Some(0.4)),
        (4, "3", 2, "undo: second", None),
        (5, "2", 1, "undo: first", None),
        (6, "1", 2, "redo: first", None),
    ];
    cluster.sql("tinbadge", "insert into blob (sha256, bytes, size) values ('solid', '', 0), ('left', '', 0)");
    cluster.sql("tinbadge", &format!("insert into job (id, state, latest, gone) values ('{id}', 2, 6, false)"));
    for (row, from, state, label, height) in rows {
        let document = height.map(|height| {
            job.marks[0].relief.height = height;
            serde_json::to_string(&job)
        });
        let document = document.transpose()?.map_or("null".into(), |document| format!("'{document}'"));
        cluster.sql(
            "tinbadge",
            &format!(
                "insert into change (id, job, from_state, state, author, at, label, document) \
                 values ({row}, '{id}', {from}, {state}, 'A. Tester', now(), '{label}', {document})"
            ),
        );
    }
    Migrator::up(&database, None).await?;
    let store = Store::new(database);
    let id = id.parse()?;
    let steps = store.own_steps(id, "A. Tester").await?;
    let named = |step: Option<server::store::OwnStep>| step.map(|step| step.label);
    ensure!(named(steps.undo).as_deref() == Some("first") && named(steps.redo).as_deref() == Some("second"));
    ensure!(store.standing(id).await?.job.marks[0].relief.height == 0.3);
    ensure!(cluster.asked("tinbadge", "select string_agg(sha256, ',') from job_blob") == "solid");
    // what is changed then stands on what was kept then
    let mut after = store.standing(id).await?.job;
    after.name = "Other".into();
    let entry = Entry { by: By::plainly("B. Tester"), label: "name", of: Of::Itself };
    // the next number is after those that were written by hand here
    cluster.sql("tinbadge", "select setval(pg_get_serial_sequence('change', 'id'), 6)");
    ensure!(store.keep_change(id, 2, entry, after.clone()).await?);
    ensure!(Store::new(store.database.clone()).standing(id).await?.job == after);
    Ok(())
}
