//! Words and marks of a step: those of its operation, in the setting of the stand.

use agronomy::{
    caution::Caution,
    crop::{Crop, library},
    practice::{OfCrop, Operation, Template, Variant, operation},
    said,
    said::{Said, Say},
    source::Source,
    units::Temperature,
};
use jiff::civil::Date;
use records::Choices;

use crate::{Mending, Reason, step::Look};

fn variant<'a>(operation: &'a Operation, choices: &Choices) -> Option<&'a Variant> {
    operation.variant(choices.cover.is_plants(), choices.cover.method())
}

/// What to do.
pub fn title(operation: &Operation, choices: &Choices) -> String {
    variant(operation, choices).map_or_else(|| operation.title.clone(), |variant| variant.title.clone())
}

/// Its label in pencil.
pub fn planned(template: &Template, choices: &Choices) -> String {
    if let Some(title) = &template.title {
        return title.to_lowercase();
    }
    operation(&template.operation).map_or_else(|| template.key.clone(), |one| look(one, choices).planned)
}

/// What it is drawn and inked by.
pub fn look(operation: &Operation, choices: &Choices) -> Look {
    let variant = variant(operation, choices);
    let or = |own: Option<&String>, usual: &String| own.unwrap_or(usual).clone();
    Look {
        operation: operation.key.clone(),
        planned: or(variant.and_then(|variant| variant.planned.as_ref()), &operation.planned),
        done: or(variant.and_then(|variant| variant.done.as_ref()), &operation.done),
        mark: operation.mark.clone(),
        weight: operation.weight,
        quiet: operation.quiet,
        role: operation.role,
    }
}

/// Of an operation that the library no longer holds.
pub fn unknown(key: &str) -> Look {
    let words = key.replace('-', " ");
    Look {
        operation: key.to_owned(),
        planned: words.clone(),
        done: words,
        mark: "ring".to_owned(),
        weight: 1,
        quiet: true,
        role: None,
    }
}

/// Why a step is done then.
pub fn reasons(reasons: &[agronomy::practice::Reason], crops: &[&Crop]) -> Vec<Reason> {
    reasons.iter().filter_map(|reason| told(reason, crops)).collect()
}

/// What common practice says.
pub fn common(text: Said) -> Reason {
    Reason { text, source: Source::common_practice("common practice") }
}

/// Why a step stands later than it usually does.
pub fn late(usually: Date) -> Reason {
    let text = said!(
        "The usual time ended on {}, before this stand was planned. Do it as soon as possible: the steps that depend on it have less time.",
        usually
    );
    Reason { text, source: Source::common_practice("common practice") }
}

fn told(reason: &agronomy::practice::Reason, crops: &[&Crop]) -> Option<Reason> {
    let Some(of) = reason.of else {
        let source = match &reason.source {
            Some(key) => library().source(key).clone(),
            None => Source::common_practice("common practice"),
        };
        return Some(Reason { text: Said::from_text(&reason.text, &[]), source });
    };
    let warmth = |crop: &Crop| crop.establish.soil_temperature.value;
    let days = |of: fn(&Crop) -> &agronomy::crop::Days| {
        let ends = |crop: &&Crop| (of(crop).low, of(crop).high);
        crops.iter().map(ends).reduce(|a, b| (a.0.max(b.0), a.1.max(b.1))).unwrap_or_default()
    };
    let (crop, source, pieces): (&&Crop, &str, Vec<(&str, Said)>) = match of {
        OfCrop::Warmest => {
            let crop = crops.iter().max_by(|a, b| warmth(a).total_cmp(&warmth(b)))?;
            let figure = &crop.establish.soil_temperature;
            (crop, &figure.source, vec![("temperature", figure.measure::<Temperature>().say())])
        }
        OfCrop::LastToShow => {
            let crop = crops.iter().max_by_key(|crop| crop.establish.first_look.high)?;
            let (low, high) = days(|crop| &crop.establish.first_look);
            (crop, &crop.establish.first_look.source, vec![("low", low.say()), ("high", high.say())])
        }
        OfCrop::LastCounted => {
            let crop = crops.iter().max_by_key(|crop| crop.establish.count.high)?;
            (crop, &crop.establish.count.source, vec![("how", Said::from_text(&crop.establish.count_how, &[]))])
        }
    };
    let mut pieces = pieces;
    pieces.push(("crop", crop.name.say()));
    Some(Reason { text: Said::from_text(&reason.text, &pieces), source: library().source(source).clone() })
}

/// Why a finding asks for a step.
pub fn found(mending: &Mending) -> Reason {
    let source = Source::common_practice("a failed check calls for another pass and a recheck");
    Reason { text: said!("Found {}: {}. Recheck when done.", mending.found_on, mending.why.clone()), source }
}

/// What to mind.
pub fn cautions(operation: &Operation, own: &[String], choices: &Choices, crops: &[&Crop]) -> Vec<Caution> {
    let usual = &operation.cautions;
    let keys = variant(operation, choices).and_then(|variant| variant.cautions.as_ref()).unwrap_or(usual);
    let of_crops = operation.crop_cautions.iter().filter(|key| crops.iter().any(|crop| crop.cautions.contains(key)));
    let mut shown: Vec<Caution> = vec![];
    for caution in keys.iter().chain(own).chain(of_crops).filter_map(|key| Caution::of(key)) {
        if !shown.contains(&caution) {
            shown.push(caution);
        }
    }
    shown
}
