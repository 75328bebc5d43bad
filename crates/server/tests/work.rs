//! Work is given a turn, and nobody who has gone is worked for.

use actix_web::rt;
use actix_web::web;
use server::work::{Work, wanted};
use std::sync::mpsc;

/// Work that nobody waits for is told so, by a thread that is told anew for each.
#[actix_web::test]
async fn who_has_gone_is_not_worked_for() {
    let work = Work::at_once(1);
    let (begun, begins) = mpsc::channel();
    let asked = {
        let work = work.clone();
        rt::spawn(async move {
            work.run(move || {
                begun.send(wanted()).unwrap();
                while wanted() {
                    std::thread::yield_now();
                }
            })
            .await
        })
    };
    let wanted_at_first = web::block(move || begins.recv()).await.unwrap().unwrap();
    assert!(wanted_at_first);
    asked.abort();
    // The one turn comes free, and somebody waits for what has it next.
    assert!(work.run(wanted).await.unwrap());
    assert_eq!(work.for_nobody(), 1);
}
