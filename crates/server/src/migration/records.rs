//! Records of inspections, which are written once and stay; and how many findings that fail somebody answers for.

use sea_orm_migration::{prelude::*, schema::*};

pub(super) struct Records;

impl MigrationName for Records {
    fn name(&self) -> &'static str {
        "m0014_records"
    }
}

/// What is recorded stays as it is: the database itself refuses anything else.
const WRITTEN_ONCE: &str = "CREATE FUNCTION record_stays() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN \
    RAISE EXCEPTION 'a record is written once and stays'; END $$; \
    CREATE TRIGGER record_stays BEFORE UPDATE OR DELETE OR TRUNCATE ON record \
    FOR EACH STATEMENT EXECUTE FUNCTION record_stays()";

#[async_trait::async_trait]
impl MigrationTrait for Records {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        let waived = integer("waived").default(0).take();
        manager.alter_table(Table::alter().table("inspection").add_column(waived).to_owned()).await?;
        manager
            .create_table(
                Table::create()
                    .table("record")
                    .col(big_pk_auto("number"))
                    .col(uuid("job"))
                    .col(big_integer("state"))
                    .col(string("author"))
                    .col(timestamp_with_time_zone("at"))
                    .col(json_binary("summary"))
                    .col(string("sha256"))
                    .col(binary("document"))
                    .col(binary("proof"))
                    .to_owned(),
            )
            .await?;
        manager
            .create_index(Index::create().name("record_of_job").table("record").col("job").col("number").to_owned())
            .await?;
        manager.get_connection().execute_unprepared(WRITTEN_ONCE).await?;
        Ok(())
    }
}
