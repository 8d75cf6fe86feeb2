//! Ids that are never given again, and the shop's things: versions of its lettering faces, settings, who did what.

use sea_orm_migration::{prelude::*, schema::*};

pub(super) struct ShopThings;

impl MigrationName for ShopThings {
    fn name(&self) -> &'static str {
        "m0013_shop"
    }
}

#[async_trait::async_trait]
impl MigrationTrait for ShopThings {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager.alter_table(Table::alter().table("job").add_column(json_binary_null("given")).to_owned()).await?;
        let version = integer("version").default(1).take();
        manager.alter_table(Table::alter().table("own_face").add_column(version).to_owned()).await?;
        let keyed = "ALTER TABLE own_face DROP CONSTRAINT own_face_pkey, ADD PRIMARY KEY (name, version)";
        manager.get_connection().execute_unprepared(keyed).await?;
        manager
            .create_table(
                Table::create()
                    .table("shop_step")
                    .col(big_pk_auto("id"))
                    .col(string("author"))
                    .col(timestamp_with_time_zone("at"))
                    .col(string("says"))
                    .to_owned(),
            )
            .await?;
        manager
            .create_table(
                Table::create()
                    .table("setting")
                    .col(string("name").primary_key())
                    .col(json_binary_null("value"))
                    .col(integer("version"))
                    .to_owned(),
            )
            .await
    }
}
