//! What is handed out of the front end's folder, and how it is packed.

use std::path::PathBuf;

use actix_web::http::header::HeaderValue;
use rstest::rstest;
use server::screens::{inside, takes};

#[rstest]
#[case::page("/farms/1/season", Some("farms/1/season"))]
#[case::root("/", Some(""))]
#[case::up("/../secret", None)]
#[case::up_later("/assets/../../secret", None)]
fn an_address_leads_nowhere_out_of_the_folder(#[case] address: &str, #[case] expected: Option<&str>) {
    assert_eq!(inside(address), expected.map(PathBuf::from));
}

#[rstest]
#[case::named("gzip, deflate, br", "br", true)]
#[case::weighed_away("br;q=0, gzip", "br", false)]
#[case::weighed("gzip;q=0.5", "gzip", true)]
#[case::another("deflate", "gzip", false)]
fn an_encoding_is_taken_when_it_is_named(#[case] header: &str, #[case] encoding: &str, #[case] expected: bool) {
    assert_eq!(takes(Some(&HeaderValue::from_str(header).unwrap()), encoding), expected);
}
