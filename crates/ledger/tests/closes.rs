//! The place in a stand's years that an entry closes.

use jiff::civil::date;
use ledger::{
    Error,
    entry::{self, NewEntry, Via},
    field, stand,
};
use records::{Closes, Payload, Subject, kinds::bioassay::BioassayRead};
use rstest::rstest;
use serde_json::json;
use uuid::Uuid;

use crate::farm_with_stand::{TODAY, done, ground, square};

fn lime() -> Payload {
    let lime = json!({"kind": "dressing", "dressing": {"what": "lime", "product": "lime",
        "rate": {"value": 2, "unit": "t/ha"}, "analysis": {}}});
    Payload::sent(lime).unwrap()
}

fn closes(stand: Uuid, step: &str) -> Closes {
    Closes { stand, step: step.into(), season: Some(2026), occurrence: Some(2) }
}

fn closing(about: Vec<Subject>, payload: Payload, closes: Closes) -> NewEntry {
    NewEntry { closes: Some(closes), ..NewEntry::of(Uuid::now_v7(), about, date(2026, 4, 1), Via::Web, payload) }
}

/// Of whatever kind, about the stand or about its field alone; and the books are told.
#[tokio::test]
async fn any_work_may_close_a_step() {
    let (ground, pool) = ground().await;
    let mut connection = pool.get().await.unwrap();
    let (field, own) = (Subject::field(ground.field), Subject::stand(ground.stand));
    let kinds = [(vec![own], done("roll").into(), "roll"), (vec![field], lime(), "lime")];
    for (about, payload, step) in kinds {
        let new = closing(about, payload, closes(ground.stand, step));
        let kept = entry::write(&mut connection, &ground.member, &new, TODAY).await.unwrap();
        assert_eq!(kept.closes, new.closes);
        let found = entry::find(&mut connection, &ground.member, new.id).await.unwrap().unwrap();
        assert_eq!(found.closes, new.closes);
        // The same submission is the same entry only where it closes the same.
        assert_eq!(entry::write(&mut connection, &ground.member, &new, TODAY).await.unwrap(), kept);
        for other in [None, Some(Closes { occurrence: Some(3), ..closes(ground.stand, step) })] {
            let other = NewEntry { closes: other, ..new.clone() };
            let outcome = entry::write(&mut connection, &ground.member, &other, TODAY).await;
            assert!(matches!(outcome, Err(Error::Conflict(_))), "{outcome:?}");
        }
    }
    let books = entry::books(&mut connection, &ground.member, Some(field)).await.unwrap();
    let told = |one: &records::book::Operation| one.closes.as_ref().map(|closes| closes.step.clone());
    assert_eq!(told(&books.field(ground.field).operations[0]).unwrap(), "lime");
    assert_eq!(told(&books.stand(ground.stand).unwrap().operations[0]).unwrap(), "roll");
}

/// A failed bioassay was made for its step and does not close it; one that passed does.
#[tokio::test]
async fn what_failed_keeps_its_place_and_closes_nothing() {
    let (ground, pool) = ground().await;
    let mut connection = pool.get().await.unwrap();
    let field = Subject::field(ground.field);
    for (passed, closed) in [(false, 0), (true, 1)] {
        let read = BioassayRead { passed, note: None };
        let new = closing(vec![field], read.into(), closes(ground.stand, "bioassay"));
        let kept = entry::write(&mut connection, &ground.member, &new, TODAY).await.unwrap();
        assert_eq!(kept.closes, new.closes);
        let books = entry::books(&mut connection, &ground.member, Some(field)).await.unwrap();
        assert_eq!(books.field(ground.field).operations.len(), closed);
    }
}

#[rstest]
#[case::no_step(Closes { step: String::new(), ..closes(Uuid::nil(), "lime") }, "/closes/step")]
#[case::no_time(Closes { occurrence: Some(0), ..closes(Uuid::nil(), "lime") }, "/closes/occurrence")]
#[tokio::test]
async fn a_place_that_cannot_be_is_refused(#[case] place: Closes, #[case] pointer: &str) {
    let (ground, pool) = ground().await;
    let mut connection = pool.get().await.unwrap();
    let place = Closes { stand: ground.stand, ..place };
    let new = closing(vec![Subject::field(ground.field)], lime(), place);
    match entry::write(&mut connection, &ground.member, &new, TODAY).await {
        Err(Error::Refused(refused)) => assert_eq!(refused.0[0].pointer, pointer),
        other => panic!("{other:?}"),
    }
}

/// The stand whose step it is stands on the field it is about, and is the one it is about.
#[tokio::test]
async fn another_stand_is_not_closed() {
    let (ground, pool) = ground().await;
    let mut connection = pool.get().await.unwrap();
    let beside = square("Beside", ground.member.farm.id);
    let elsewhere = field::add(&mut connection, &ground.member, &beside).await.unwrap().id;
    let there = stand::add(&mut connection, &ground.member, Uuid::now_v7(), elsewhere).await.unwrap().id;
    let next = stand::add(&mut connection, &ground.member, Uuid::now_v7(), ground.field).await.unwrap().id;
    let about = [
        (vec![Subject::field(ground.field)], there),
        (vec![Subject::stand(ground.stand)], next),
        (vec![Subject::field(elsewhere)], ground.stand),
    ];
    for (about, stand) in about {
        let new = closing(about, lime(), closes(stand, "lime"));
        let outcome = entry::write(&mut connection, &ground.member, &new, TODAY).await;
        assert!(
            matches!(&outcome, Err(Error::Refused(refused)) if refused.0[0].pointer == "/closes/stand"),
            "{outcome:?}"
        );
    }
    let unknown = closing(vec![Subject::field(ground.field)], lime(), closes(Uuid::now_v7(), "lime"));
    let outcome = entry::write(&mut connection, &ground.member, &unknown, TODAY).await;
    assert!(matches!(outcome, Err(Error::NotFound)), "{outcome:?}");
}
