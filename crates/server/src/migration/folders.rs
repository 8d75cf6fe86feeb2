//! Where jobs are kept on the list.

use sea_orm_migration::{prelude::*, schema::*};

pub(super) struct Folders;

impl MigrationName for Folders {
    fn name(&self) -> &'static str {
        "m0015_folders"
    }
}

#[async_trait::async_trait]
impl MigrationTrait for Folders {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        let folder = string("folder").default("").take();
        manager.alter_table(Table::alter().table("job").add_column(folder).to_owned()).await
    }
}
