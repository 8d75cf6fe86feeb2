//! Servers, workers and the database ended without a word at moments that nobody chose, while people work: what was
//! acknowledged is there, nothing is there twice, and what the queue holds gets done.

use anyhow::{Context, Result, ensure};
use browser_tests::{
    Cluster, Server,
    server::{Worker, face},
};
use reqwest::{Client, Method};
use serde_json::{Value, json};
use std::{
    sync::{
        Arc, RwLock,
        atomic::{AtomicBool, Ordering},
    },
    time::{Duration, SystemTime},
};

const PEOPLE: usize = 4;

/// Numbers of no pattern (Knuth's MMIX constants, from memory).
struct Dice(u64);

impl Dice {
    fn below(&mut self, most: usize) -> usize {
        self.0 = self.0.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        (self.0 >> 33) as usize % most
    }
}

/// Where the servers are at present.
type Bases = Arc<RwLock<Vec<String>>>;

fn uuid(dice: &mut Dice) -> String {
    let mut part =
        |digits: usize| (0..digits).map(|_| char::from(b"0123456789abcdef"[dice.below(16)])).collect::<String>();
    format!("{}-{}-4{}-a{}-{}", part(8), part(4), part(3), part(3), part(12))
}

/// Sends a change to any server, again and again under its key, until one says yes.
async fn insist(client: &Client, bases: &Bases, dice: &mut Dice, path: &str, mut body: Value) -> Result<()> {
    body["key"] = json!(uuid(dice));
    for _ in 0..600 {
        let base = {
            let bases = bases.read().expect("nobody panicked");
            bases[dice.below(bases.len())].clone()
        };
        let sent = client.post(format!("{base}{path}")).json(&body).timeout(Duration::from_secs(20)).send().await;
        match sent {
            Ok(answer) if answer.status().is_success() => return Ok(()),
            Ok(answer) if answer.status().is_server_error() => {}
            Ok(answer) => anyhow::bail!("{}: {}", answer.status(), answer.text().await?),
            Err(_) => {}
        }
        tokio::time::sleep(Duration::from_millis(100)).await;
    }
    anyhow::bail!("nobody answers")
}

/// One person, who sets the text of one mark over and over; how often that was acknowledged.
async fn person(at: usize, id: String, bases: Bases, over: Arc<AtomicBool>, mut dice: Dice) -> Result<usize> {
    let (client, mut kept) = (Client::new(), 0);
    while !over.load(Ordering::Relaxed) {
        let edit = json!({"do": "set_mark", "id": format!("mark-{}", at + 1), "settings": {"text": format!("P{at}-{}", kept + 1)}});
        let body = json!({"author": format!("P. {at}"), "edit": edit});
        insist(&client, &bases, &mut dice, &format!("/api/jobs/{id}/changes"), body).await?;
        kept += 1;
        tokio::time::sleep(Duration::from_millis(20 + dice.below(60) as u64)).await;
    }
    Ok(kept)
}

async fn crashes(rounds: usize) -> Result<()> {
    let seed = SystemTime::now().duration_since(SystemTime::UNIX_EPOCH)?.as_nanos() as u64;
    println!("seed {seed}");
    let mut dice = Dice(seed);
    let mut cluster = Cluster::start(true);
    let mut servers: Vec<Option<Server>> = Vec::new();
    for _ in 0..2 {
        servers.push(Some(Server::without_work(&cluster.url())?));
    }
    let first = servers[0].as_ref().context("a server")?;
    let id = first.block_with_mark().await?;
    let top = face(&first.get(&format!("/api/jobs/{id}")).await?, "facing +z").context("the block has a top")?;
    for at in 1..PEOPLE {
        let add = json!({"do": "add_mark", "face": top, "text": format!("P{at}"), "point": null});
        first.edit(&id, "A. Tester", add).await?;
    }
    // another job whose rows are measured all the time
    let rows = first.block_with_mark().await?;
    let roster = json!({"columns": [{"name": "cavity", "kind": {"kind": "text"}}],
        "rows": (1..=6).map(|row| json!({"id": row, "cells": [row.to_string()]})).collect::<Vec<_>>()});
    first.edit(&rows, "A. Tester", json!({"do": "roster", "edit": {"change": "take", "roster": roster}})).await?;
    let recipe = json!([{"of": {"piece": "column", "column": "cavity"}}]);
    first.edit(&rows, "A. Tester", json!({"do": "set_mark", "id": "mark-1", "settings": {"recipe": recipe}})).await?;

    let bases: Bases = Arc::new(RwLock::new(servers.iter().flatten().map(|s| s.base.clone()).collect()));
    let over = Arc::new(AtomicBool::new(false));
    let people: Vec<_> = (0..PEOPLE)
        .map(|at| tokio::spawn(person(at, id.clone(), bases.clone(), over.clone(), Dice(seed ^ (at as u64 + 1)))))
        .collect();
    let mut workers = [Some(Worker::start(&cluster.url())?), Some(Worker::start(&cluster.url())?)];
    let client = Client::new();
    for round in 0..rounds {
        let cell =
            json!({"change": "set_cell", "row": 1 + dice.below(6), "column": "cavity", "text": format!("R{round}")});
        let body = json!({"author": "R. Tester", "edit": {"do": "roster", "edit": cell}});
        insist(&client, &bases, &mut dice, &format!("/api/jobs/{rows}/changes"), body).await?;
        let base = bases.read().expect("nobody panicked")[0].clone();
        // one may be under way already
        let _ = client.post(format!("{base}/api/jobs/{rows}/rows/run")).json(&json!({"work": "measure"})).send().await;
        tokio::time::sleep(Duration::from_millis(dice.below(700) as u64)).await;
        match round % 3 {
            0 => {
                let at = dice.below(2);
                servers[at].take().context("a server")?.kill()?;
                let new = Server::without_work(&cluster.url())?;
                bases.write().expect("nobody panicked")[at] = new.base.clone();
                servers[at] = Some(new);
            }
            1 => {
                let at = dice.below(2);
                workers[at].take().context("a worker")?.kill()?;
                workers[at] = Some(Worker::start(&cluster.url())?);
            }
            _ => cluster.crash_and_restart(),
        }
    }
    over.store(true, Ordering::Relaxed);
    let mut kept = Vec::new();
    for person in people {
        kept.push(person.await??);
    }
    println!("{kept:?} changes were acknowledged");
    let server = Server::without_work(&cluster.url())?;
    let job = server.get(&format!("/api/jobs/{id}")).await?;
    for (at, kept) in kept.iter().enumerate() {
        ensure!(*kept > rounds / 4, "person {at} got on: {kept} changes in {rounds} rounds");
        let text = job["job"]["marks"][at]["text"].clone();
        ensure!(text == format!("P{at}-{kept}"), "the last that was acknowledged is {kept}, and it says {text}");
        let count = format!("select count(*) from change where job = '{id}' and author = 'P. {at}'");
        ensure!(cluster.asked("tinbadge", &count) == kept.to_string(), "each of {kept} is there once");
    }
    // what was put into the queue last gets done; where no run is under way, one is begun
    for _ in 0..1200 {
        let all = server.get(&format!("/api/jobs/{rows}/rows")).await?;
        if all["running"].is_null() && all["measured"] == 6 {
            return Ok(());
        }
        if all["running"].is_null() {
            let begin = Some(json!({"work": "measure"}));
            server.ask(Method::POST, &format!("/api/jobs/{rows}/rows/run"), begin).await?;
        }
        tokio::time::sleep(Duration::from_millis(100)).await;
    }
    anyhow::bail!("rows stay undone: {}", server.get(&format!("/api/jobs/{rows}/rows")).await?)
}

#[tokio::test(flavor = "multi_thread")]
async fn nothing_acknowledged_is_lost_where_servers_workers_and_the_database_are_killed() -> Result<()> {
    crashes(9).await
}

#[tokio::test(flavor = "multi_thread")]
#[ignore = "a quarter of an hour: ./tinbadge test --long"]
async fn nothing_acknowledged_is_lost_in_600_kills() -> Result<()> {
    crashes(600).await
}
