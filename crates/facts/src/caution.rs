//! Short cautions, shown where the step is.
//!
//! The tool gives agronomic arithmetic, not veterinary, legal or engineering advice: each caution
//! defers to the label, the local rules or a licensed person.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A caution: one plain sentence of danger, one of whom to follow.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Caution {
    /// Stable name, such as `treated-seed`.
    pub key: String,
    /// What can go wrong, and what people usually do about it.
    pub text: String,
    /// Whose word counts: the label, local rules, a licensed person.
    pub defer: String,
}

/// Cautions known so far, by key.
const KNOWN: &[(&str, &str, &str)] = &[
    (
        "treated-seed",
        "Treated seed is not feed: keep it from stock, children and open water, and wear gloves when filling the drill.",
        "Follow the treatment label on the bag.",
    ),
    (
        "drill-moving-parts",
        "Shut off, lower or block the drill before reaching into it; put a drill that is jacked up for calibration on stands.",
        "Follow the operator\u{2019}s manual.",
    ),
    (
        "slope-and-lines",
        "Mind slopes when turning with a full drill, and overhead lines when filling with a loader.",
        "Follow local safety rules.",
    ),
    (
        "bloat",
        "A stand that is more than about half bloating legume can kill grazing stock within hours: fill them up first, watch them, never turn in hungry onto wet growth.",
        "Ask your veterinarian.",
    ),
    (
        "horses-clover",
        "Some clovers make horses slobber or worse; switchgrass can harm their livers.",
        "Ask your veterinarian before feeding horses.",
    ),
    (
        "prussic-nitrate",
        "Sorghum kin and stressed cereals can carry prussic acid or nitrate: test before grazing after drought or frost.",
        "Ask a laboratory and your veterinarian.",
    ),
    (
        "blocked-drill",
        "Clear a blocked drill only when it is shut off and lowered or blocked up: never reach under a raised one, and keep riders off while it runs.",
        "Follow the operator\u{2019}s manual.",
    ),
    (
        "mower",
        "Mowers throw stones far and take hands and legs: clear people and animals out of the field first, and shut off and wait for the blades to stop before you get down to clear one.",
        "Follow the operator\u{2019}s manual.",
    ),
    (
        "prescribed-fire",
        "Fire in grass escapes and kills: burn only with a permit, mown or bare fire lanes, a crew that has done it, water at hand, steady light wind, and the neighbors and the fire service told. Smoke over a road is a hazard, too.",
        "Local law and the fire service decide whether, when and how; ask a trained burn leader.",
    ),
    (
        "damp-bales",
        "Hay baled damp heats, moulds and can burn weeks later: probe it daily for six weeks. At 150 \u{b0}F (65 \u{b0}C) check it twice a day; at 160 \u{b0}F (71 \u{b0}C) call the fire service before you open or move anything.",
        "Follow your fire service.",
    ),
    (
        "nitrate-found",
        "This forage has enough nitrate to harm stock, pregnant stock first: do not feed it before you know how much of the ration it may be.",
        "Ask your veterinarian or nutritionist.",
    ),
    (
        "invasive",
        "Vigorous or rhizome crops can leave the field: check the noxious and invasive lists, keep the setback, contain rhizomes in transport and clean machines.",
        "Local law decides what may be planted.",
    ),
    (
        "endophyte",
        "Old tall fescue carries a fungus that lames cattle, starves them of heat and makes mares lose their foals: sow an endophyte-free or a novel-endophyte variety.",
        "Ask your veterinarian before grazing in-foal mares.",
    ),
    (
        "brassica",
        "Brassicas alone can give stock anaemia, goitre, bloat or nitrate poisoning: bring them to it over a week or two, never hungry, with hay beside it.",
        "Ask your veterinarian.",
    ),
    (
        "noxious-seed",
        "Weed and other-crop seed in the bag comes up in the field: read the noxious-weed line of the tag.",
        "State seed law decides what may be sold and sown.",
    ),
    (
        "lime-dust",
        "Lime dust burns eyes and lungs: goggles and mask, spread on a still day, keep it off open water.",
        "Follow the product\u{2019}s safety sheet.",
    ),
    (
        "caustic-lime",
        "Hydrated and burnt lime are caustic: they blind and burn, and burnt lime heats when wet.",
        "Follow the product\u{2019}s safety sheet; ask a trained person.",
    ),
    (
        "fertiliser",
        "Keep fertiliser out of water and away from stock, store nitrates apart from fuel, and keep salty products away from the seed.",
        "Follow the label and local rules.",
    ),
    (
        "manure",
        "Manure gas kills in pits and closed stores; keep manure back from water and wells, and off frozen ground.",
        "Local rules set setbacks and seasons.",
    ),
    (
        "nutrient-rules",
        "Where a nutrient-management plan or a phosphorus index applies, it comes before these figures.",
        "Ask the local conservation office or a licensed planner.",
    ),
    (
        "herbicide-history",
        "Residues of some herbicides kill legumes years later; straw, hay and manure carry them too.",
        "The label in hand rules; a bioassay tells what the soil holds.",
    ),
    (
        "spray-label",
        "Spray drifts, burns skin and lungs and reaches water: the gloves and mask the label names, a still day, and the days it asks for before anyone goes in or stock graze.",
        "The label is the law; in many places only a licensed person may spray.",
    ),
    (
        "lifting",
        "Seed bags are heavy and rhizome loads heat: lift with help, and don\u{2019}t work alone in great heat.",
        "Follow local safety rules.",
    ),
];

impl Caution {
    /// The caution of a key, or `None` for an unknown one.
    pub fn of(key: &str) -> Option<Self> {
        KNOWN.iter().find(|(known, ..)| *known == key).map(|(key, text, defer)| Self {
            key: (*key).to_owned(),
            text: (*text).to_owned(),
            defer: (*defer).to_owned(),
        })
    }
}
