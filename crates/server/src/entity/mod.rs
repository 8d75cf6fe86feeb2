//! The tables, one file each.

pub mod blob;
pub mod campaign;
pub mod campaign_job;
pub mod change;
pub mod handover;
pub mod inspection;
pub mod job;
pub mod job_blob;
pub mod own_face;
pub mod pattern;
pub mod record;
pub mod run;
pub mod run_row;
pub mod setting;
pub mod sheet;
pub mod shop_step;
pub mod variant;
pub mod variant_file;
