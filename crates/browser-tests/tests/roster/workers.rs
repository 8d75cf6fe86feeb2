//! Rows done by workers that are processes of their own, some of which are ended in between.

use super::{begin, ended, six_cavities};
use anyhow::{Result, ensure};
use browser_tests::{
    Cluster, Server,
    server::{Worker, until},
};
use reqwest::Method;
use serde_json::json;

#[tokio::test(flavor = "multi_thread")]
async fn what_a_worker_leaves_when_it_is_killed_another_one_does() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::without_work(&cluster.url())?;
    let id = six_cavities(&server).await?;
    ensure!(begin(&server, &id, "build").await? == 202);
    // nobody works yet, and it waits
    tokio::time::sleep(std::time::Duration::from_secs(2)).await;
    let rows = server.get(&format!("/api/jobs/{id}/rows")).await?;
    ensure!(rows["built"] == 0 && rows["running"]["total"] == 5, "{rows}");

    let busy = "select count(*) from graphile_worker._private_jobs where locked_at is not null";
    for _ in 0..2 {
        let worker = Worker::start(&cluster.url())?;
        ensure!(until(|| cluster.asked("tinbadge", busy) != "0").await, "it takes something up");
        worker.kill()?;
    }
    let _one = Worker::start(&cluster.url())?;
    let _other = Worker::start(&cluster.url())?;
    let rows = ended(&server, &id).await?;
    ensure!(rows["built"] == 6 && rows["measured"] == 6, "{rows}");
    ensure!(rows["rows"].as_array().is_some_and(|rows| rows.iter().all(|row| row["problem"].is_null())), "{rows}");
    // what was put there once more while a killed worker had it is none of the queue's any more
    let queued = "graphile_worker._private_jobs where attempts < max_attempts";
    for table in ["run", "run_row", queued] {
        ensure!(
            until(|| cluster.asked("tinbadge", &format!("select count(*) from {table}")) == "0").await,
            "{table} holds nothing any more"
        );
    }
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_row_at_which_workers_end_is_told_and_holds_up_no_other() -> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::without_work(&cluster.url())?;
    let id = six_cavities(&server).await?;
    // as if three workers had been ended at the row that is planned first
    let made = cluster.asked(
        "tinbadge",
        "create function thrice() returns trigger language plpgsql as
         $$ begin if not exists (select from run_row) then new.begun := 3; end if; return new; end $$;
         create trigger thrice before insert on run_row for each row execute function thrice();",
    );
    ensure!(made.is_empty(), "{made}");
    ensure!(begin(&server, &id, "measure").await? == 202);
    let _worker = Worker::start(&cluster.url())?;
    let rows = ended(&server, &id).await?;
    let told = rows["rows"].as_array().into_iter().flatten().filter(|row| !row["problem"].is_null());
    let told: Vec<_> = told.collect();
    ensure!(told.len() == 1 && told[0]["row"] == 1, "{rows}");
    ensure!(
        told.iter()
            .all(|row| row["problem"].as_str().is_some_and(|why| why.contains("ended at this row, three times")))
    );
    ensure!(rows["measured"] == 6, "{rows}");
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_run_that_is_stopped_leaves_nothing_in_the_queue_and_one_that_is_overtaken_goes_on_with_what_stands()
-> Result<()> {
    let cluster = Cluster::start(false);
    let server = Server::without_work(&cluster.url())?;
    let id = six_cavities(&server).await?;
    let path = format!("/api/jobs/{id}/rows/run");
    let queued = "select count(*) from graphile_worker._private_jobs where locked_at is null";
    ensure!(begin(&server, &id, "measure").await? == 202);
    let worker = Worker::start(&cluster.url())?;
    ensure!(until(|| cluster.asked("tinbadge", "select count(*) > 0 from run_row") == "t").await);
    let (status, _) = server.ask(Method::DELETE, &path, None).await?;
    ensure!(status == 204);
    let rows = server.get(&format!("/api/jobs/{id}/rows")).await?;
    ensure!(rows["running"].is_null(), "{rows}");
    ensure!(until(|| cluster.asked("tinbadge", queued) == "0").await, "the queue is empty");
    worker.kill()?;

    // planned, then changed before anybody went on with it
    ensure!(begin(&server, &id, "measure").await? == 202);
    let cell = json!({"change": "set_cell", "row": 5, "column": "cavity", "text": "50"});
    server.edit(&id, "A. Tester", json!({"do": "roster", "edit": cell})).await?;
    let _worker = Worker::start(&cluster.url())?;
    let rows = ended(&server, &id).await?;
    ensure!(rows["measured"] == 6 && rows["rows"][4]["marks"][0]["text"] == "008-50", "{rows}");
    Ok(())
}
