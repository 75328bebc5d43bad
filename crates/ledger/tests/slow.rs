//! What the log tells of a slow statement.

use diesel::{ExpressionMethods, QueryDsl, debug_query, pg::Pg};
use ledger::{schema::people, slow::without_values};

#[test]
fn what_is_bound_is_not_told() {
    let query = people::table.filter(people::name.eq("Somebody")).select(people::id);
    let text = debug_query::<Pg, _>(&query).to_string();
    assert!(text.contains("Somebody"), "{text}");
    let told = without_values(&text);
    assert!(told.ends_with("= $1)") && !told.contains("Somebody"), "{told}");
}
