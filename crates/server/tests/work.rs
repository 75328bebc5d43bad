//! Work is given a turn, and nobody who has gone is worked for.

use actix_web::rt;
use actix_web::web;
use server::{
    turns::Turns,
    work::{Work, wanted},
};
use std::{
    sync::{Arc, Mutex, mpsc},
    time::Duration,
};
use uuid::Uuid;

/// Work that nobody waits for is told so, by a thread that is told anew for each.
#[actix_web::test]
async fn who_has_gone_is_not_worked_for() {
    let work = Work::at_once(1);
    let (begun, begins) = mpsc::channel();
    let asked = {
        let work = work.clone();
        rt::spawn(async move {
            work.run(Uuid::nil(), move || {
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
    assert!(work.run(Uuid::nil(), wanted).await.unwrap());
    assert_eq!(work.for_nobody(), 1);
}

/// One farm asks for many turns, another for one: the other does not wait for all of them.
#[actix_web::test]
async fn farms_take_turns() {
    let turns = Turns::of(1);
    let (many, few) = (Uuid::now_v7(), Uuid::now_v7());
    let order = Arc::new(Mutex::new(vec![]));
    let held = turns.turn(many).await;
    let ask = |whose: Uuid| {
        let (turns, order) = (turns.clone(), order.clone());
        actix_web::rt::spawn(async move {
            let _turn = turns.turn(whose).await;
            order.lock().unwrap().push(whose);
        })
    };
    let mut asking = vec![];
    for whose in [many, many, many, few] {
        asking.push(ask(whose));
        tokio::task::yield_now().await;
    }
    drop(held);
    for one in asking {
        one.await.unwrap();
    }
    assert_eq!(*order.lock().unwrap(), [many, few, many, many]);
    // All of them are free again.
    tokio::time::timeout(Duration::from_secs(5), turns.turn(few)).await.unwrap();
}

/// Who waits no more is passed over, and a turn that came too late goes on.
#[actix_web::test]
async fn a_turn_is_never_lost() {
    let turns = Turns::of(2);
    let held = [turns.turn(Uuid::nil()).await, turns.turn(Uuid::nil()).await];
    for _ in 0..20 {
        let waited = tokio::time::timeout(Duration::from_millis(1), turns.turn(Uuid::now_v7())).await;
        assert!(waited.is_err());
    }
    let other = turns.clone();
    let last = actix_web::rt::spawn(async move { other.turn(Uuid::nil()).await });
    tokio::task::yield_now().await;
    drop(held);
    let own = last.await.unwrap();
    let second = tokio::time::timeout(Duration::from_secs(5), turns.turn(Uuid::nil())).await.unwrap();
    assert!(tokio::time::timeout(Duration::from_millis(20), turns.turn(Uuid::nil())).await.is_err());
    drop((own, second));
}
