//! The tables, as Diesel sees them. Kept by hand beside the migrations; `tests/schema.rs` holds it
//! against the database.
#![allow(missing_docs)]

diesel::table! {
    people (id) {
        id -> Uuid,
        email -> Text,
        name -> Text,
        password_hash -> Text,
        units -> Text,
        theme -> Text,
        created_at -> Timestamptz,
    }
}

diesel::table! {
    farms (id) {
        id -> Uuid,
        name -> Text,
        latitude -> Double,
        longitude -> Double,
        elevation_m -> Double,
        practice_day -> Nullable<Date>,
        created_at -> Timestamptz,
    }
}

diesel::table! {
    memberships (farm_id, person_id) {
        farm_id -> Uuid,
        person_id -> Uuid,
        role -> Text,
    }
}

diesel::table! {
    sessions (key_hash) {
        key_hash -> Bytea,
        state -> Jsonb,
        expires_at -> Timestamptz,
    }
}

diesel::table! {
    fields (farm_id, id) {
        farm_id -> Uuid,
        id -> Uuid,
        name -> Text,
        boundary -> Jsonb,
        setback_m -> Double,
        area_m2 -> Double,
        sown_area_m2 -> Double,
        created_at -> Timestamptz,
    }
}

diesel::table! {
    seed_lots (farm_id, id) {
        farm_id -> Uuid,
        id -> Uuid,
        crop -> Text,
        label -> Text,
        created_at -> Timestamptz,
    }
}

diesel::table! {
    stands (farm_id, id) {
        farm_id -> Uuid,
        id -> Uuid,
        field_id -> Uuid,
        created_at -> Timestamptz,
    }
}

diesel::table! {
    entries (farm_id, id) {
        farm_id -> Uuid,
        id -> Uuid,
        field_id -> Nullable<Uuid>,
        stand_id -> Nullable<Uuid>,
        lot_id -> Nullable<Uuid>,
        kind -> Text,
        version -> Integer,
        occurred_on -> Date,
        recorded_at -> Timestamptz,
        recorded_by -> Uuid,
        via -> Text,
        payload -> Jsonb,
        strikes -> Nullable<Uuid>,
    }
}

diesel::joinable!(memberships -> farms (farm_id));
diesel::joinable!(memberships -> people (person_id));
diesel::allow_tables_to_appear_in_same_query!(people, farms, memberships, entries);
