//! The tables as Diesel sees them are the tables that are there.

use diesel::{QueryableByName, sql_types::Text};
use diesel_async::RunQueryDsl;

use crate::common::{Pooled, database};

#[derive(QueryableByName)]
struct Column {
    #[diesel(sql_type = Text)]
    table_name: String,
    #[diesel(sql_type = Text)]
    column_name: String,
    #[diesel(sql_type = Text)]
    data_type: String,
    #[diesel(sql_type = Text)]
    is_nullable: String,
}

/// What PostgreSQL calls the types of Diesel.
fn in_words(column: &Column) -> String {
    let kind = match column.data_type.as_str() {
        "uuid" => "Uuid",
        "text" => "Text",
        "double precision" => "Double",
        "real" => "Float",
        "bigint" => "BigInt",
        "smallint" => "SmallInt",
        "integer" => "Integer",
        "date" => "Date",
        "timestamp with time zone" => "Timestamptz",
        "jsonb" => "Jsonb",
        "bytea" => "Bytea",
        "boolean" => "Bool",
        other => other,
    };
    let kind = if column.is_nullable == "YES" { format!("Nullable<{kind}>") } else { kind.to_owned() };
    format!("{} -> {kind},", column.column_name)
}

#[tokio::test]
async fn every_column_is_declared_as_it_is() {
    let pool = database().await.pool();
    let mut connection = pool.get().await.unwrap();
    let columns: Vec<Column> = diesel::sql_query(
        "SELECT table_name::text, column_name::text, data_type::text, is_nullable::text FROM information_schema.columns \
         WHERE table_schema = 'public' AND table_name NOT LIKE '\\_\\_%' AND NOT EXISTS \
         (SELECT FROM pg_inherits WHERE inhrelid = table_name::regclass) ORDER BY table_name, ordinal_position",
    )
    .load(&mut connection)
    .await
    .unwrap();
    assert!(columns.len() > 40, "{}", columns.len());
    let declared = include_str!("../src/schema.rs");
    for column in &columns {
        let table = declared
            .split("diesel::table! {")
            .find(|part| part.trim_start().starts_with(&format!("{} (", column.table_name)))
            .unwrap_or_else(|| panic!("{} is not declared", column.table_name));
        assert!(table.contains(&in_words(column)), "{}: {}", column.table_name, in_words(column));
    }
}
