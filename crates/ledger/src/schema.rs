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
        odds_level -> Double,
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
        time_zone -> Text,
        version -> Integer,
        closed_on -> Nullable<Date>,
        currency -> Text,
        year_begins -> Nullable<Integer>,
    }
}

diesel::table! {
    memberships (farm_id, person_id) {
        farm_id -> Uuid,
        person_id -> Uuid,
        role -> Text,
        ended -> Bool,
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
        boundary -> Nullable<Jsonb>,
        setback_m -> Double,
        area_m2 -> Double,
        sown_area_m2 -> Double,
        created_at -> Timestamptz,
    }
}

diesel::table! {
    photos (farm_id, id) {
        farm_id -> Uuid,
        id -> Uuid,
        jpeg -> Bytea,
        sha256 -> Text,
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
        kind -> Text,
        version -> Integer,
        occurred_on -> Date,
        recorded_at -> Timestamptz,
        recorded_by -> Uuid,
        via -> Text,
        payload -> Jsonb,
        strikes -> Nullable<Uuid>,
        closes_stand -> Nullable<Uuid>,
        closes_step -> Nullable<Text>,
        closes_season -> Nullable<SmallInt>,
        closes_occurrence -> Nullable<Integer>,
    }
}

diesel::table! {
    ledger_chain (farm_id, position) {
        farm_id -> Uuid,
        position -> BigInt,
        entry_id -> Uuid,
        digest -> Bytea,
    }
}

diesel::table! {
    kept_answers (farm_id, key) {
        farm_id -> Uuid,
        key -> Bytea,
        body -> Bytea,
        kept_at -> Timestamptz,
    }
}

diesel::table! {
    foundings (farm_id, kind, subject_id) {
        farm_id -> Uuid,
        kind -> Text,
        subject_id -> Uuid,
        digest -> Bytea,
        position -> Nullable<BigInt>,
    }
}

diesel::table! {
    entry_subjects (farm_id, kind, subject_id, entry_id) {
        farm_id -> Uuid,
        kind -> Text,
        subject_id -> Uuid,
        entry_id -> Uuid,
        part -> Text,
    }
}

diesel::table! {
    stations (farm_id) {
        farm_id -> Uuid,
        name -> Text,
        latitude -> Double,
        elevation_m -> Double,
        code -> Nullable<Text>,
        revision -> BigInt,
        heard_on -> Nullable<Date>,
        trouble -> Nullable<Text>,
        version -> Integer,
    }
}

diesel::table! {
    weather_days (farm_id, day) {
        farm_id -> Uuid,
        day -> Date,
        tmin -> Nullable<Float>,
        tmax -> Nullable<Float>,
        rain -> Nullable<Float>,
        radiation -> Nullable<Float>,
        dew_point -> Nullable<Float>,
        wind -> Nullable<Float>,
    }
}

diesel::table! {
    weather_hours (farm_id, day, hour) {
        farm_id -> Uuid,
        day -> Date,
        hour -> Integer,
        temperature -> Float,
        rain -> Float,
        radiation -> Float,
        humidity -> Float,
        wind -> Float,
    }
}

diesel::table! {
    forecast_days (farm_id, member, day) {
        farm_id -> Uuid,
        member -> Integer,
        day -> Date,
        tmin -> Float,
        tmax -> Float,
        rain -> Float,
        wind -> Nullable<Float>,
    }
}

diesel::table! {
    weather_imports (farm_id, id) {
        farm_id -> Uuid,
        id -> Uuid,
        imported_at -> Timestamptz,
        imported_by -> Uuid,
        file_name -> Text,
        added -> Integer,
        replaced -> Integer,
        findings -> Jsonb,
        findings_in_all -> Integer,
        digest -> Nullable<Bytea>,
    }
}

diesel::table! {
    invitations (farm_id, id) {
        farm_id -> Uuid,
        id -> Uuid,
        key_hash -> Bytea,
        role -> Text,
        made_by -> Uuid,
        expires_at -> Timestamptz,
        used_by -> Nullable<Uuid>,
        withdrawn -> Bool,
    }
}

diesel::table! {
    password_resets (key_hash) {
        key_hash -> Bytea,
        person_id -> Uuid,
        expires_at -> Timestamptz,
        used -> Bool,
        made_by -> Nullable<Uuid>,
        farm_id -> Nullable<Uuid>,
    }
}

diesel::joinable!(password_resets -> people (person_id));
diesel::joinable!(invitations -> farms (farm_id));
diesel::joinable!(memberships -> farms (farm_id));
diesel::joinable!(memberships -> people (person_id));
diesel::allow_tables_to_appear_in_same_query!(
    invitations,
    password_resets,
    people,
    farms,
    memberships,
    entries,
    entry_subjects,
    ledger_chain
);
