//! Laboratory CSV: columns found, lines checked, all or nothing.

use agronomy::{
    soil::{AcidityTest, Buffer, Column, Imported, Mapping, PMethod, import, sampling},
    units::{SoilContent, Unit},
};
use jiff::civil::date;
use proptest::prelude::*;
use rstest::rstest;
use serde_json::json;

fn mapping() -> Mapping {
    Mapping {
        columns: Default::default(),
        p_method: PMethod::BrayP1,
        buffer: Buffer::Smp,
        laboratory: "Valley Soils".into(),
        depth_unit: Unit::In,
        sampled_on: Some(date(2026, 4, 2)),
    }
}

fn read(text: &str) -> Imported {
    import(text, &mapping()).unwrap()
}

const GOOD: &str = "Field,Sample ID,Depth from,Depth to,pH,Buffer pH,P (ppm),K (ppm),CEC,OM %
Cooper Piece,S1,0,6,5.6,6.4,14,95,11.2,3.4
Cooper Piece,S1,6,12,5.3,,,,,
Sheep Hill,S2,0,6,6.2,6.7,22,130,12,3.9
";

#[test]
fn columns_are_found_and_layers_put_together() {
    let imported = read(GOOD);
    assert!(imported.errors.is_empty(), "{:?}", imported.errors);
    assert_eq!((imported.lines, imported.rows.len()), (3, 2));
    let test = &imported.rows[0].test;
    assert_eq!((imported.rows[0].field.as_str(), test.layers.len()), ("Cooper Piece", 2));
    assert_eq!(test.sampled_on, date(2026, 4, 2));
    assert_eq!(test.layers[0].acidity, Some(AcidityTest::Smp { buffer_ph: 6.4 }));
    assert_eq!(test.layers[0].k, Some(SoilContent::new(95.0, Unit::Ppm)));
    assert_eq!(test.layers[1].ph, 5.3);
    assert_eq!(imported.mapping[&Column::BufferPh], "Buffer pH");
}

/// A buffer pH is of the laboratory's buffer, which the file does not say.
#[test]
fn a_buffer_is_of_its_kind() {
    let imported = import(GOOD, &Mapping { buffer: Buffer::Sikora, ..mapping() }).unwrap();
    assert_eq!(imported.rows[0].test.layers[0].acidity, Some(AcidityTest::Sikora { buffer_ph: 6.4 }));
}

/// South of many borders a comma is the decimal mark and a semicolon cuts the cells.
#[test]
fn a_decimal_comma_is_read() {
    let text = "Potrero;Fecha;pH;P\nEl Bajo;2026-03-30;5,8;12,5\n";
    let imported = read(text);
    assert!(imported.errors.is_empty(), "{:?}", imported.errors);
    let test = &imported.rows[0].test;
    assert_eq!((test.layers[0].ph, test.sampled_on), (5.8, date(2026, 3, 30)));
    assert!((test.layers[0].p.unwrap().value.to(Unit::Ppm) - 12.5).abs() < 1e-12);
}

#[test]
fn a_heading_can_be_named() {
    let mut mapping = mapping();
    mapping.columns.insert(Column::Ph, "Reaction".into());
    mapping.columns.insert(Column::K, String::new());
    let imported = import("Field,Reaction,K\nA,6.1,many\n", &mapping).unwrap();
    assert!(imported.errors.is_empty(), "{:?}", imported.errors);
    assert_eq!(imported.rows[0].test.layers[0].k, None, "a column can be left out");
}

#[rstest]
#[case::missing_column("Field,P\nA,12\n", 1, "", "no column for pH")]
#[case::not_a_number("Field,pH,K\nA,6.1,low\n", 2, "K", "is not a number")]
#[case::water_ph("Field,pH\nA,15\n", 2, "pH", "enter 2.5–11")]
#[case::buffer("Field,pH,Buffer\nA,5.6,8.9\n", 2, "Buffer", "8.9")]
#[case::cec("Field,pH,CEC\nA,5.6,0\n", 2, "CEC", "more than zero")]
#[case::unit("Field,pH,OM\nA,5.6,340\n", 2, "OM", "100%")]
#[case::no_field("Field,pH\n,5.6\n", 2, "Field", "no field")]
#[case::no_ph("Field,pH\nA,\n", 2, "pH", "no pH")]
#[case::cells("Field,pH\nA,5.6,7,8\n", 2, "", "4 cells, but there are 2 headings")]
#[case::day("Field,pH,Date\nA,5.6,3/30/26\n", 2, "Date", "year-month-day")]
#[case::twice("Field,pH,K\nA,5.6,90\nA,5.8,95\n", 3, "", "is already in line 2")]
#[case::upside_down(
    "Field,pH,Depth from,Depth to\nA,5.6,12,6\n",
    2,
    "Depth to",
    "the layer bottom must be below the top"
)]
#[case::nothing("Field,pH\n", 0, "", "the file has headings but no data")]
fn a_bad_line_is_named_and_nothing_is_taken(
    #[case] text: &str,
    #[case] line: usize,
    #[case] column: &str,
    #[case] said: &str,
) {
    let imported = read(text);
    assert!(imported.rows.is_empty());
    let found =
        imported.errors.iter().any(|error| error.line == line && error.column == column && error.detail.contains(said));
    assert!(found, "{:?}", imported.errors);
}

#[test]
fn one_bad_row_among_good_ones_takes_none() {
    let imported = read(&GOOD.replace("6.2,6.7", "62,6.7"));
    assert!(imported.rows.is_empty());
    assert_eq!((imported.errors_in_all, imported.errors[0].line), (1, 4));
}

#[test]
fn fifty_thousand_lines_are_read_and_one_more_is_refused() {
    let mut text = String::from("Field,pH,P,K\n");
    for index in 0..50_000 {
        text.push_str(&format!("F{index},6.1,20,120\n"));
    }
    assert_eq!(read(&text).rows.len(), 50_000);
    text.push_str("Last,6.1,20,120\n");
    let refused = import(&text, &mapping()).unwrap_err();
    assert!(refused.0[0].detail.contains("50000"), "{refused}");
}

#[test]
fn of_many_findings_the_first_are_told_and_all_are_counted() {
    let text = format!("Field,pH\n{}", "A,sour\n".repeat(900));
    let imported = read(&text);
    assert_eq!((imported.errors.len(), imported.errors_in_all), (200, 900));
}

#[test]
fn no_more_is_quoted_than_helps() {
    let long = "x".repeat(300_000);
    let refused = import(&format!("Field,pH,{long}\nA,5.6,1\n"), &mapping()).unwrap_err();
    assert!(refused.0[0].detail.contains("3 headings, the longest 300000 characters"), "{refused}");
    let wide = format!("Field,pH{}\nA,5.6\n", ",no use".repeat(600));
    assert!(import(&wide, &mapping()).unwrap_err().0[0].detail.contains("602 headings"));
    let imported = read(&format!("Field,pH\nA,{long}\n"));
    assert!(imported.errors[0].detail.to_string().chars().count() < 600, "{:?}", imported.errors[0].line);
}

/// Common practice: 15 to 20 cores for at most about 20 acres; below the plough layer for deep roots.
#[rstest]
#[case(12.0, "timothy", 1.0, 1)]
#[case(50.0, "timothy", 3.0, 1)]
#[case(50.0, "alfalfa", 6.0, 2)]
fn how_many_samples(#[case] acres: f64, #[case] crop: &str, #[case] composites: f64, #[case] depths: usize) {
    let request = json!({"area": {"value": acres, "unit": "ac"}, "crop": crop});
    let plan = sampling(&serde_json::from_value(request).unwrap()).unwrap().value;
    assert_eq!((plan.composites, plan.depths.len()), (composites, depths));
    assert!((15.0..=20.0).contains(&plan.cores_each));
}

proptest! {
    /// Whatever a file holds, reading it answers: rows, or findings by line, never both.
    #[test]
    fn any_text_is_answered(text in "\\PC{0,200}") {
        if let Ok(imported) = import(&text, &mapping()) {
            prop_assert!(imported.rows.is_empty() || imported.errors.is_empty());
            prop_assert_eq!(imported.errors.is_empty(), imported.errors_in_all == 0);
        }
    }

    /// A sound file of any length comes in whole, whatever cuts its cells.
    #[test]
    fn a_sound_file_comes_in_whole(rows in proptest::collection::vec((3.0..9.0_f64, 0.0..200.0_f64, 0.0..900.0_f64), 1..60), cut in 0..3_usize) {
        let mark = [",", ";", "\t"][cut];
        let mut text = ["Field", "pH", "P", "K"].join(mark) + "\n";
        for (index, (ph, p, k)) in rows.iter().enumerate() {
            text += &[format!("F{index}"), format!("{ph:.2}"), format!("{p:.1}"), format!("{k:.0}")].join(mark);
            text += "\n";
        }
        let imported = import(&text, &mapping()).unwrap();
        prop_assert!(imported.errors.is_empty(), "{:?}", imported.errors);
        prop_assert_eq!(imported.rows.len(), rows.len());
        for (row, (ph, ..)) in imported.rows.iter().zip(&rows) {
            prop_assert!((row.test.layers[0].ph - ph).abs() <= 0.005 + 1e-9);
        }
    }

    /// One bad cell anywhere, and nothing is taken; its line is named.
    #[test]
    fn one_bad_cell_is_found(count in 1..40_usize, bad in 0..40_usize) {
        let bad = bad % count;
        let mut text = "Field,pH\n".to_owned();
        for index in 0..count {
            text += &format!("F{index},{}\n", if index == bad { "sour" } else { "6.1" });
        }
        let imported = import(&text, &mapping()).unwrap();
        prop_assert!(imported.rows.is_empty());
        prop_assert_eq!(imported.errors_in_all, 1);
        prop_assert_eq!(imported.errors[0].line, bad + 2);
    }
}
