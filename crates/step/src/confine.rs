//! What a process that reads a file of anybody gives up before it does.

use rustix::{
    process::{Signal, geteuid, nice, set_parent_process_death_signal},
    thread::{Gid, Uid, UnshareFlags},
};

/// Nobody's user and group on Debian.
pub const NOBODY: u32 = 65_534;

/// Ends with whoever started it, and lets edits of others come first.
pub fn yield_to_parent() {
    let _ = set_parent_process_death_signal(Some(Signal::KILL));
    let _ = nice(5);
}

/// Gives up the network, and, where it was started by root, all that root may do. Before any thread is started. What the
/// system doesn't let go of is left: limits hold anyway.
pub fn confine() {
    // an ordinary user gets to a network of its own, which is empty, through a namespace of users, if the system allows it
    #[expect(deprecated, reason = "nothing of the process was shared with other threads yet: there are none")]
    let apart = |flags| rustix::thread::unshare(flags).is_ok();
    let root = geteuid().is_root();
    let _ = apart(UnshareFlags::NEWNET) || apart(UnshareFlags::NEWUSER | UnshareFlags::NEWNET);
    if root {
        let (uid, gid) = (Uid::from_raw(NOBODY), Gid::from_raw(NOBODY));
        let _ = rustix::thread::set_thread_groups(&[]);
        let _ = rustix::thread::set_thread_res_gid(gid, gid, gid);
        let _ = rustix::thread::set_thread_res_uid(uid, uid, uid);
    }
    let _ = rustix::thread::set_no_new_privs(true);
}
