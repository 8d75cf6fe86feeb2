//! The steps that bring a database to the tables of this version.

mod folders;
mod records;
mod shop;
mod work;

use folders::Folders;
use records::Records;
use sea_orm_migration::{prelude::*, schema::*};
use shop::ShopThings;
use work::{Campaigns, JobBlobs, OwnSteps, Patches, Runs, Typing};

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
            Box::new(JobBlobs),
            Box::new(ShopThings),
            Box::new(Records),
            Box::new(Folders),
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
