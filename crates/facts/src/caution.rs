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
        "Never feed treated seed. Keep it away from livestock, children and open water, and wear gloves when filling the drill.",
        "Follow the treatment label on the bag.",
    ),
    (
        "drill-moving-parts",
        "Shut off and lower or block the drill before reaching into it. Use stands when it is jacked up for calibration.",
        "Follow the operator\u{2019}s manual.",
    ),
    (
        "slope-and-lines",
        "Take care on slopes when turning a full drill, and near overhead lines when filling with a loader.",
        "Follow local safety rules.",
    ),
    (
        "bloat",
        "A stand with more than about half bloat-causing legume can kill grazing stock within hours. Feed them first, watch them, and never turn hungry stock onto wet growth.",
        "Ask your veterinarian.",
    ),
    (
        "horses-clover",
        "Some clovers make horses slobber or worse; switchgrass can damage their livers.",
        "Ask your veterinarian before feeding horses.",
    ),
    (
        "prussic-nitrate",
        "Sorghum types and stressed cereals can carry prussic acid or nitrate. Test before grazing after drought or frost.",
        "Ask a lab and your veterinarian.",
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
        "wastewater",
        "Treated wastewater, parlor washings and drainage carry germs, salts and medicines: keep them off forage that is grazed, cut green or chopped soon, and keep people out of the spray.",
        "Local health and water rules set the waits and what may be watered.",
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
        "Vigorous or rhizomatous crops can escape the field. Check noxious and invasive lists, keep the setback, contain rhizomes in transport and clean machines.",
        "Local law decides what may be planted.",
    ),
    (
        "endophyte",
        "Old tall fescue can carry a toxic endophyte that lames cattle, raises their body temperature, narrows their blood vessels and makes mares lose foals. Sow an endophyte-free or novel-endophyte variety.",
        "Ask your veterinarian before grazing in-foal mares.",
    ),
    (
        "brassica",
        "Brassicas fed alone can cause anemia, goiter, bloat or nitrate poisoning. Introduce them over one to two weeks, never to hungry stock, and offer hay.",
        "Ask your veterinarian.",
    ),
    (
        "noxious-seed",
        "Weed and other-crop seed in the bag will come up in the field. Read the noxious-weed line on the tag.",
        "State seed law decides what may be sold and sown.",
    ),
    (
        "lime-dust",
        "Lime dust burns eyes and lungs. Wear goggles and a mask, spread on a still day and keep it off open water.",
        "Follow the product\u{2019}s safety sheet.",
    ),
    (
        "caustic-lime",
        "Hydrated and burnt lime are caustic. They burn skin and can blind, and burnt lime heats up when wet.",
        "Follow the product\u{2019}s safety sheet; ask a trained person.",
    ),
    (
        "fertiliser",
        "Keep fertilizer out of water and away from livestock, store nitrates away from fuel, and keep high-salt products away from the seed.",
        "Follow the label and local rules.",
    ),
    (
        "manure",
        "Manure gas kills in pits and closed storage. Keep manure away from water and wells and off frozen ground.",
        "Local rules set setbacks and seasons.",
    ),
    (
        "nutrient-rules",
        "A nutrient management plan or phosphorus index overrides these figures.",
        "Ask the local conservation office or a licensed planner.",
    ),
    (
        "herbicide-history",
        "Some herbicide residues kill legumes years later. Straw, hay and manure can carry them too.",
        "Follow the label; use a bioassay to check the soil.",
    ),
    (
        "spray-label",
        "Spray drifts, burns skin and lungs and reaches water. Wear the protective gear on the label, spray in a light, steady wind and never in still air, and keep re-entry and grazing intervals.",
        "The label is the law. In many places only licensed applicators may spray.",
    ),
    (
        "lifting",
        "Seed bags are heavy and rhizome loads heat up. Get help lifting, and do not work alone in extreme heat.",
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
