//! Tables of what people undo, of states as patches, and of work that outlives a request.

use sea_orm_migration::{prelude::*, schema::*};

pub(super) struct OwnSteps;

impl MigrationName for OwnSteps {
    fn name(&self) -> &'static str {
        "m0007_own_steps"
    }
}

#[async_trait::async_trait]
impl MigrationTrait for OwnSteps {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        for column in ["undoes", "redoes"] {
            manager.alter_table(Table::alter().table("change").add_column(big_integer_null(column)).to_owned()).await?;
        }
        // what was undone before is known by where it led: to the state that a change was made from, or back to the change
        for (step, undone) in [
            ("undoes", "c.id = s.from_state AND c.from_state = s.state"),
            ("redoes", "c.id = s.state AND c.from_state = s.from_state"),
        ] {
            let filled =
                format!("UPDATE change s SET {step} = c.id FROM change c WHERE s.document IS NULL AND {undone}");
            manager.get_connection().execute_unprepared(&filled).await?;
        }
        Ok(())
    }
}

pub(super) struct Patches;

impl MigrationName for Patches {
    fn name(&self) -> &'static str {
        "m0008_patches"
    }
}

#[async_trait::async_trait]
impl MigrationTrait for Patches {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        for column in [json_binary_null("patch"), big_integer_null("base")] {
            manager.alter_table(Table::alter().table("change").add_column(column).to_owned()).await?;
        }
        Ok(())
    }
}

pub(super) struct Runs;

impl MigrationName for Runs {
    fn name(&self) -> &'static str {
        "m0009_runs"
    }
}

#[async_trait::async_trait]
impl MigrationTrait for Runs {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager
            .create_table(Table::create().table("run").col(uuid("job").primary_key()).col(string("work")).to_owned())
            .await?;
        manager
            .create_table(
                Table::create()
                    .table("run_row")
                    .col(uuid("job"))
                    .col(string("digest"))
                    .col(integer("begun"))
                    .primary_key(Index::create().col("job").col("digest"))
                    .to_owned(),
            )
            .await
    }
}

pub(super) struct Typing;

impl MigrationName for Typing {
    fn name(&self) -> &'static str {
        "m0010_typing"
    }
}

#[async_trait::async_trait]
impl MigrationTrait for Typing {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        for column in [uuid_null("typing"), big_integer_null("continues")] {
            manager.alter_table(Table::alter().table("change").add_column(column).to_owned()).await?;
        }
        Ok(())
    }
}

pub(super) struct Campaigns;

impl MigrationName for Campaigns {
    fn name(&self) -> &'static str {
        "m0011_campaigns"
    }
}

#[async_trait::async_trait]
impl MigrationTrait for Campaigns {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager
            .create_table(
                Table::create()
                    .table("campaign")
                    .col(uuid("id").primary_key())
                    .col(string("says"))
                    .col(string("author"))
                    .col(timestamp_with_time_zone("at"))
                    .col(json_binary("edit"))
                    .col(boolean("stopped"))
                    .to_owned(),
            )
            .await?;
        manager
            .create_table(
                Table::create()
                    .table("campaign_job")
                    .col(uuid("campaign"))
                    .col(uuid("job"))
                    .col(integer("place"))
                    .col(string("name"))
                    .col(uuid("key"))
                    .col(string("phase"))
                    .col(big_integer_null("state"))
                    .col(json_binary_null("before"))
                    .col(json_binary_null("after"))
                    .col(string_null("why"))
                    .col(string_null("taken_by"))
                    .primary_key(Index::create().col("campaign").col("job"))
                    .foreign_key(ForeignKey::create().from("campaign_job", "campaign").to("campaign", "id"))
                    .foreign_key(ForeignKey::create().from("campaign_job", "job").to("job", "id"))
                    .to_owned(),
            )
            .await
    }
}

pub(super) struct JobBlobs;

impl MigrationName for JobBlobs {
    fn name(&self) -> &'static str {
        "m0012_job_blobs"
    }
}

#[async_trait::async_trait]
impl MigrationTrait for JobBlobs {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        let at = timestamp_with_time_zone("at").default(Expr::current_timestamp()).take();
        manager.alter_table(Table::alter().table("blob").add_column(at).to_owned()).await?;
        manager
            .create_table(
                Table::create()
                    .table("job_blob")
                    .col(uuid("job"))
                    .col(string("sha256"))
                    .primary_key(Index::create().col("job").col("sha256"))
                    .foreign_key(ForeignKey::create().from("job_blob", "job").to("job", "id"))
                    .foreign_key(ForeignKey::create().from("job_blob", "sha256").to("blob", "sha256"))
                    .to_owned(),
            )
            .await?;
        for path in ["{part,sha256}", "{part,replaces,sha256}"] {
            let filled = format!(
                "INSERT INTO job_blob SELECT DISTINCT c.job, b.sha256 FROM change c JOIN job j ON j.id = c.job \
                 JOIN blob b ON b.sha256 = c.document #>> '{path}' ON CONFLICT DO NOTHING"
            );
            manager.get_connection().execute_unprepared(&filled).await?;
        }
        Ok(())
    }
}
