//! What is kept at hand goes one by one, that which was used longest ago first.

use server::lately::Lately;

#[test]
fn what_was_used_longest_ago_goes_first_and_never_all_at_once() {
    let mut kept: Lately<&str, usize> = Lately::new(10, |weight| *weight);
    kept.put("oats", 4);
    kept.put("clover", 3);
    kept.put("timothy", 3);
    assert!(kept.get(&"oats").is_some(), "used again");
    kept.put("fescue", 2);
    let left: Vec<&str> = kept.iter().map(|(key, _)| *key).collect();
    assert_eq!((left, kept.weight()), (vec!["fescue", "oats", "timothy"], 9));
    // Grown since it came: weighed again when something is put by.
    *kept.get(&"timothy").unwrap() = 7;
    kept.put("chicory", 1);
    let left: Vec<&str> = kept.iter().map(|(key, _)| *key).collect();
    assert_eq!((left, kept.weight()), (vec!["chicory", "timothy", "fescue"], 10));
}

#[test]
fn the_newest_stays_whatever_it_weighs() {
    let mut kept: Lately<u8, usize> = Lately::new(10, |weight| *weight);
    kept.put(1, 2);
    kept.put(2, 50);
    assert_eq!((kept.len(), kept.weight()), (1, 50));
    *kept.get_or(3, || 1) += 1;
    assert_eq!((kept.len(), kept.weight()), (2, 52), "what was made is let grow first");
    kept.within_bounds();
    assert_eq!((kept.len(), kept.get(&3).copied()), (1, Some(2)));
    assert!(!kept.is_empty());
}
