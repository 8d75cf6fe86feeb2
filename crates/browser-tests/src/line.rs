//! A line between a window and a server that can be cut, and along which answers come late.

use anyhow::{Context, Result};
use std::{
    sync::{
        Arc,
        atomic::{AtomicU64, Ordering},
    },
    time::Duration,
};
use tokio::{
    io::{AsyncReadExt, AsyncWriteExt},
    net::{
        TcpListener, TcpStream,
        tcp::{OwnedReadHalf, OwnedWriteHalf},
    },
    sync::watch,
    task::JoinHandle,
};

/// Passes on what a window and a server say to each other. It stands on a port of its own, whose number has as many digits
/// as the server's: the one is put in the place of the other in what the window sends.
pub struct Line {
    /// `http://127.0.0.1:…`
    pub base: String,
    /// By how much answers come late, ms.
    late: Arc<AtomicU64>,
    /// Counts how often it was cut; odd while it is.
    cut: watch::Sender<u64>,
    listening: JoinHandle<()>,
}

impl Line {
    /// # Errors
    /// No port is free.
    pub async fn to(server: &str) -> Result<Self> {
        let (_, port) = server.rsplit_once(':').context("the server has a port")?;
        let port: u16 = port.parse()?;
        let listener = loop {
            let listener = TcpListener::bind(("127.0.0.1", 0)).await?;
            if listener.local_addr()?.port().to_string().len() == port.to_string().len() {
                break listener;
            }
        };
        let own = listener.local_addr()?.port();
        let (late, (cut, is_cut)) = (Arc::new(AtomicU64::new(0)), watch::channel(0));
        let held = late.clone();
        let listening = tokio::spawn(async move {
            while let Ok((window, _)) = listener.accept().await {
                tokio::spawn(passed(window, own, port, held.clone(), is_cut.clone()));
            }
        });
        Ok(Self { base: format!("http://127.0.0.1:{own}"), late, cut, listening })
    }

    /// From now on answers come so much later.
    pub fn delay(&self, by: Duration) {
        self.late.store(by.as_millis() as u64, Ordering::Relaxed);
    }

    /// Ends everything that is under way, and lets nothing through any more.
    pub fn cut(&self) {
        self.cut.send_modify(|cuts| *cuts |= 1);
    }

    pub fn mend(&self) {
        self.cut.send_modify(|cuts| *cuts += *cuts & 1);
    }
}

impl Drop for Line {
    fn drop(&mut self) {
        self.listening.abort();
    }
}

async fn passed(window: TcpStream, own: u16, port: u16, late: Arc<AtomicU64>, mut cut: watch::Receiver<u64>) {
    if *cut.borrow() & 1 == 1 {
        return;
    }
    let Ok(server) = TcpStream::connect(("127.0.0.1", port)).await else { return };
    let ((from_window, to_window), (from_server, to_server)) = (window.into_split(), server.into_split());
    tokio::select! {
        () = asked(from_window, to_server, own, port) => {}
        () = answered(from_server, to_window, late) => {}
        _ = cut.wait_for(|cuts| cuts & 1 == 1) => {}
    }
}

async fn asked(mut from: OwnedReadHalf, mut to: OwnedWriteHalf, own: u16, port: u16) {
    let (own, port) = (format!("127.0.0.1:{own}"), format!("127.0.0.1:{port}"));
    let mut bytes = vec![0; 64 << 10];
    while let Ok(count) = from.read(&mut bytes).await {
        let mut at = 0;
        while let Some(found) = bytes[at..count].windows(own.len()).position(|w| w == own.as_bytes()) {
            bytes[at + found..at + found + own.len()].copy_from_slice(port.as_bytes());
            at += found + own.len();
        }
        if count == 0 || to.write_all(&bytes[..count]).await.is_err() {
            return;
        }
    }
}

async fn answered(mut from: OwnedReadHalf, mut to: OwnedWriteHalf, late: Arc<AtomicU64>) {
    let mut bytes = vec![0; 64 << 10];
    while let Ok(count) = from.read(&mut bytes).await {
        tokio::time::sleep(Duration::from_millis(late.load(Ordering::Relaxed))).await;
        if count == 0 || to.write_all(&bytes[..count]).await.is_err() {
            return;
        }
    }
}
