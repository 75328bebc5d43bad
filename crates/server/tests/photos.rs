//! Pictures: kept small and once, told of by an entry that holds their digest, shown to the farm's people only.

use actix_web::http::StatusCode;
use ledger::photo;
use rstest::rstest;
use serde_json::{Value, json};
use server::api::photos::wrong;
use uuid::Uuid;

use crate::common::{Site, farm, in_base64, of, picture};

const HOLLOW: &str = "fennick-hollow";

async fn mara() -> Site {
    Site::demo().await.signed_in_as("mara@fennick.example").await
}

fn photos() -> String {
    format!("{}/photos", farm(HOLLOW))
}

fn entry(photo: Uuid, sha256: &Value) -> Value {
    let field = json!({"kind": "field", "id": of(HOLLOW, "Long Acre")});
    json!({"id": Uuid::now_v7(), "about": [field], "occurred_on": "2026-05-14",
        "payload": {"kind": "photo", "photo": photo, "sha256": sha256}})
}

#[actix_web::test]
async fn a_picture_sent_twice_is_one_and_another_under_its_id_is_refused() {
    let site = mara().await;
    let id = Uuid::now_v7();
    let first = site.post(&photos(), json!({"id": id, "jpeg": in_base64(&picture())})).await.ok();
    assert_eq!(site.post(&photos(), json!({"id": id, "jpeg": in_base64(&picture())})).await.ok(), first);
    let mut other = picture();
    other[15] ^= 1;
    let refused = site.post(&photos(), json!({"id": id, "jpeg": in_base64(&other)})).await;
    assert_eq!(refused.status, StatusCode::CONFLICT, "{}", refused.body);
    let shown = site.get(&format!("{}/{id}", photos())).await;
    assert_eq!((shown.status, shown.kind.as_str()), (StatusCode::OK, "image/jpeg"));
    site.post(&format!("{}/entries", farm(HOLLOW)), entry(id, &first["sha256"])).await.ok();
}

#[actix_web::test]
async fn an_entry_without_its_picture_is_refused() {
    let site = mara().await;
    let id = Uuid::now_v7();
    let digest = json!("0".repeat(64));
    let entries = format!("{}/entries", farm(HOLLOW));
    let refused = site.post(&entries, entry(id, &digest)).await;
    assert!(refused.at("/payload/photo").contains("before its entry"), "{}", refused.body);
    site.post(&photos(), json!({"id": id, "jpeg": in_base64(&picture())})).await.ok();
    // The digest of another.
    assert!(site.post(&entries, entry(id, &digest)).await.at("/payload/photo").contains("photo missing"));
}

#[rstest]
#[case::no_base64(json!("***"), 422)]
#[case::no_jpeg(json!(in_base64(b"GIF89a")), 422)]
#[case::more_than_is_kept(json!(in_base64(&[&picture()[..], &[0; 600_000]].concat())), 422)]
#[case::thirty_megabytes(json!("A".repeat(30 << 20)), 413)]
#[case::a_number(json!(7), 422)]
#[actix_web::test]
async fn what_is_no_picture_is_refused(#[case] jpeg: Value, #[case] status: u16) {
    let site = mara().await;
    let refused = site.post(&photos(), json!({"id": Uuid::now_v7(), "jpeg": jpeg})).await;
    assert_eq!(refused.status, status, "{}", refused.body);
}

#[actix_web::test]
async fn another_farm_sees_none_of_it() {
    let site = mara().await;
    let id = Uuid::now_v7();
    site.post(&photos(), json!({"id": id, "jpeg": in_base64(&picture())})).await.ok();
    let site = site.signed_out().signed_in_as("joaquin@ceibo.example").await;
    assert_eq!(site.get(&format!("{}/{id}", photos())).await.status, StatusCode::NOT_FOUND);
    assert_eq!(site.get(&format!("{}/photos/{id}", farm("chacra-del-ceibo"))).await.status, StatusCode::NOT_FOUND);
}

/// The bones of a JPEG: a JFIF segment, maybe another, the scan, the end.
fn jpeg(marker: u8) -> Vec<u8> {
    let mut bytes = vec![0xff, 0xd8, 0xff, 0xe0, 0, 4, 1, 1];
    bytes.extend([0xff, marker, 0, 6, b'E', b'x', b'i', b'f']);
    bytes.extend([0xff, 0xda, 0, 2, 1, 2, 3, 0xff, 0xd9]);
    bytes
}

#[rstest]
#[case::as_it_is_kept(jpeg(0xdb), None)]
#[case::with_a_cameras_notes(jpeg(0xe1), Some("camera data"))]
#[case::with_them_after_a_scan([&jpeg(0xdb)[..jpeg(0xdb).len() - 2], &[0xff, 0xe1, 0, 6, 1, 2, 3, 4, 0xff, 0xd9]].concat(), Some("camera data"))]
#[case::with_them_behind_its_end([jpeg(0xdb), jpeg(0xdb)].concat(), Some("camera data"))]
#[case::with_words_of_a_program(jpeg(0xfe), Some("camera data"))]
#[case::with_more_pictures(jpeg(0xe2), Some("camera data"))]
#[case::with_fill_restarts_and_two_scans([&jpeg(0xdb)[..jpeg(0xdb).len() - 2],
    &[0xff, 0xff, 0xda, 0, 2, 9, 0xff, 0x00, 0xff, 0xd0, 9, 0xff, 0xd9]].concat(), None)]
#[case::cut_off(jpeg(0xdb)[..20].to_vec(), Some("not a JPEG, or the file is incomplete"))]
#[case::another(b"GIF89a\xff\xd9".to_vec(), Some("not a JPEG"))]
#[case::a_length_beyond_the_end([&[0xff, 0xd8, 0xff, 0xe0, 0xff, 0xff][..], &[0xff, 0xd9]].concat(), Some("not a JPEG"))]
#[case::nothing(vec![], Some("not a JPEG"))]
#[case::only_its_ends(vec![0xff, 0xd8, 0xff, 0xd9], Some("not a JPEG"))]
#[case::too_large([jpeg(0xdb), vec![0; photo::LARGEST]].concat(), Some("the limit is"))]
fn what_is_kept(#[case] bytes: Vec<u8>, #[case] said: Option<&str>) {
    let told = wrong(&bytes).map(|told| told.to_string());
    match said {
        None => assert_eq!(told, None),
        Some(said) => assert!(told.as_ref().is_some_and(|told| told.contains(said)), "{told:?}"),
    }
}
