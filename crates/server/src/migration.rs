//! The steps that bring a database to the tables of this version.

use sea_orm_migration::{prelude::*, schema::*};

pub struct Migrator;

#[async_trait::async_trait]
impl MigratorTrait for Migrator {
    fn migrations() -> Vec<Box<dyn MigrationTrait>> {
        vec![
            Box::new(First),
            Box::new(Variants),
            Box::new(Patterns),
            Box::new(OwnFaces),
            Box::new(Sheets),
            Box::new(Keys),
            Box::new(OwnSteps),
            Box::new(Patches),
            Box::new(Runs),
            Box::new(Typing),
            Box::new(Campaigns),
        ]
    }
}

struct First;

impl MigrationName for First {
    fn name(&self) -> &'static str {
        "m0001_jobs"
    }
}

#[async_trait::async_trait]
impl MigrationTrait for First {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager
            .create_table(
                Table::create()
                    .table("blob")
                    .col(string("sha256").primary_key())
                    .col(binary("bytes"))
                    .col(big_integer("size"))
                    .to_owned(),
            )
            .await?;
        manager
            .create_table(
                Table::create()
                    .table("job")
                    .col(uuid("id").primary_key())
                    .col(big_integer("state"))
                    .col(big_integer("latest"))
                    .col(boolean("gone"))
                    .to_owned(),
            )
            .await?;
        manager
            .create_table(
                Table::create()
                    .table("change")
                    .col(big_integer("id").auto_increment().primary_key())
                    .col(uuid("job"))
                    .col(big_integer_null("from_state"))
                    .col(big_integer_null("state"))
                    .col(string("author"))
                    .col(timestamp_with_time_zone("at"))
                    .col(string("label"))
                    .col(json_binary_null("document"))
                    .to_owned(),
            )
            .await?;
        manager
            .create_index(Index::create().name("change_of_job").table("change").col("job").col("id").to_owned())
            .await?;
        manager
            .create_table(
                Table::create()
                    .table("inspection")
                    .col(big_integer("state").primary_key())
                    .col(integer("fails"))
                    .col(integer("close"))
                    .col(integer("unchecked"))
                    .col(string_null("worst"))
                    .to_owned(),
            )
            .await?;
        manager
            .create_table(
                Table::create()
                    .table("handover")
                    .col(big_integer("id").auto_increment().primary_key())
                    .col(uuid("job"))
                    .col(big_integer("state"))
                    .col(string("author"))
                    .col(timestamp_with_time_zone("at"))
                    .to_owned(),
            )
            .await
    }
}

struct Variants;

impl MigrationName for Variants {
    fn name(&self) -> &'static str {
        "m0002_variants"
    }
}

#[async_trait::async_trait]
impl MigrationTrait for Variants {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager
            .create_table(
                Table::create()
                    .table("variant")
                    .col(uuid("job"))
                    .col(string("digest"))
                    .col(json_binary("found"))
                    .primary_key(Index::create().col("job").col("digest"))
                    .to_owned(),
            )
            .await?;
        manager
            .create_table(
                Table::create()
                    .table("variant_file")
                    .col(uuid("job"))
                    .col(string("digest"))
                    .col(string("name"))
                    .col(binary("bytes"))
                    .primary_key(Index::create().col("job").col("digest").col("name"))
                    .to_owned(),
            )
            .await
    }
}

struct Patterns;

impl MigrationName for Patterns {
    fn name(&self) -> &'static str {
        "m0003_patterns"
    }
}

#[async_trait::async_trait]
impl MigrationTrait for Patterns {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager
            .create_table(
                Table::create()
                    .table("pattern")
                    .col(uuid("id").primary_key())
                    .col(string("name"))
                    .col(string("author"))
                    .col(timestamp_with_time_zone("at"))
                    .col(json_binary("document"))
                    .col(boolean("gone"))
                    .to_owned(),
            )
            .await
    }
}

struct OwnFaces;

impl MigrationName for OwnFaces {
    fn name(&self) -> &'static str {
        "m0004_own_faces"
    }
}

#[async_trait::async_trait]
impl MigrationTrait for OwnFaces {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager
            .create_table(
                Table::create()
                    .table("own_face")
                    .col(string("name").primary_key())
                    .col(string("author"))
                    .col(timestamp_with_time_zone("at"))
                    .col(json_binary("document"))
                    .col(boolean("gone"))
                    .to_owned(),
            )
            .await
    }
}

struct Sheets;

impl MigrationName for Sheets {
    fn name(&self) -> &'static str {
        "m0005_sheets"
    }
}

#[async_trait::async_trait]
impl MigrationTrait for Sheets {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager
            .create_table(
                Table::create()
                    .table("sheet")
                    .col(string("name"))
                    .col(integer("version"))
                    .col(string("limits"))
                    .col(string("author"))
                    .col(timestamp_with_time_zone("at"))
                    .col(json_binary("document"))
                    .col(boolean("gone"))
                    .primary_key(Index::create().col("name").col("version"))
                    .to_owned(),
            )
            .await
    }
}

struct Keys;

impl MigrationName for Keys {
    fn name(&self) -> &'static str {
        "m0006_keys"
    }
}

#[async_trait::async_trait]
impl MigrationTrait for Keys {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager.alter_table(Table::alter().table("change").add_column(uuid_null("key")).to_owned()).await?;
        manager
            .create_index(
                Index::create().name("key_of_change").table("change").col("job").col("key").unique().to_owned(),
            )
            .await
    }
}

struct OwnSteps;

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

struct Patches;

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

struct Runs;

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

struct Typing;

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

struct Campaigns;

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
                    .primary_key(Index::create().col("campaign").col("job"))
                    .foreign_key(ForeignKey::create().from("campaign_job", "campaign").to("campaign", "id"))
                    .foreign_key(ForeignKey::create().from("campaign_job", "job").to("job", "id"))
                    .to_owned(),
            )
            .await
    }
}
