//! Something was sprayed: a herbicide, an insecticide, a fungicide.

use agronomy::{
    refusal::{Checks, Refused},
    said,
    said::Said,
    site::Spray,
    spraying::LabelWait,
    units::{Area, Speed, Temperature, Unit},
};
use jiff::{ToSpan, civil::Date};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;

use crate::{
    book::{Books, Inked, Unfree},
    kinds::product::{Rate, Wait},
    record::{Record, Unreadable},
    shape::check_words,
};

/// What was sprayed against. Only herbicides stay in the soil for the next crop.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum SprayKind {
    #[default]
    Herbicide,
    Insecticide,
    Fungicide,
    /// A growth regulator, a desiccant, a foliar feed.
    Other,
}

impl SprayKind {
    fn says(self) -> &'static str {
        match self {
            Self::Herbicide | Self::Other => "Sprayed",
            Self::Insecticide => "Sprayed insecticide",
            Self::Fungicide => "Sprayed fungicide",
        }
    }
}

/// How it was put on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum SprayWay {
    Broadcast,
    /// Over the rows alone.
    Band,
    Spot,
    /// By a wick or wiper, on what stands above the crop.
    Wiped,
    /// With strips left for wildlife.
    StripsLeft,
}

impl SprayWay {
    fn words(self) -> &'static str {
        match self {
            Self::Broadcast => "broadcast",
            Self::Band => "banded over the row",
            Self::Spot => "spot sprayed",
            Self::Wiped => "wiped on",
            Self::StripsLeft => "strips left unsprayed",
        }
    }
}

/// Something was sprayed. The product may be one of the shed, which it is then about.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Sprayed {
    /// What against.
    #[serde(default)]
    pub what: SprayKind,
    /// Active ingredient.
    pub active: String,
    /// Further active ingredients of the same product or tank.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub with: Vec<String>,
    /// The product, where one stands in the shed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub product: Option<String>,
    /// How much of it, per area.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub amount: Option<Rate>,
    /// How much of what, in the person's words.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rate: Option<String>,
    /// Months to the crop at hand, as read off the label.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub label_months: Option<i32>,
    /// Hours until the field may be entered, as read off the label.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub re_entry_hours: Option<u32>,
    /// Days until it may be cut, as read off the label.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub harvest_days: Option<u32>,
    /// Days until it may be grazed, as read off the label.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub grazing_days: Option<u32>,
    /// Days until what may be sown, as read off the label.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub plant_back: Vec<Wait>,
    /// Area sprayed; the whole field when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub area: Option<Area>,
    /// How it was put on.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub way: Option<SprayWay>,
    /// The wind.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub wind: Option<Speed>,
    /// The air.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub temperature: Option<Temperature>,
}

impl Sprayed {
    /// One ingredient of which no more is known.
    pub fn of(active: &str) -> Self {
        Self {
            what: SprayKind::Herbicide,
            area: None,
            way: None,
            active: active.to_owned(),
            with: vec![],
            product: None,
            amount: None,
            rate: None,
            label_months: None,
            re_entry_hours: None,
            harvest_days: None,
            grazing_days: None,
            plant_back: vec![],
            wind: None,
            temperature: None,
        }
    }

    fn free_on(days: Option<u32>, on: Date) -> Option<Date> {
        days.map(|days| on.saturating_add(i64::from(days).days()))
    }
}

impl Record for Sprayed {
    const KIND: &'static str = "spray";
    const TITLE: &'static str = "Spray";
    const DEED: &'static str = "Spray applied";
    /// 1 and 2 were of herbicides alone; 2 said more of the label.
    const VERSION: i32 = 3;

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        check_words(&mut checks, "/active", &self.active, true);
        check_words(&mut checks, "/rate", self.rate.as_deref().unwrap_or_default(), false);
        if let Some(months) = self.label_months {
            let detail = format!("{months} months; it must be from 0 to 120");
            checks.require((0..=120).contains(&months), "/label_months", detail);
        }
        checks.require(self.with.len() <= 11, "/with", "enter at most 12 ingredients");
        for (index, active) in self.with.iter().enumerate() {
            check_words(&mut checks, &format!("/with/{index}"), active, true);
        }
        check_words(&mut checks, "/product", self.product.as_deref().unwrap_or_default(), false);
        match self.amount {
            Some(Rate::Weighed(rate)) => checks.positive("/amount", "Rate", rate, Unit::KgPerHa, 1_000.0),
            Some(Rate::Poured(rate)) => checks.positive("/amount", "Rate", rate, Unit::LPerHa, 1_000.0),
            None => {}
        }
        for (pointer, days, most) in [
            ("/re_entry_hours", self.re_entry_hours, 24 * 60),
            ("/harvest_days", self.harvest_days, 1_000),
            ("/grazing_days", self.grazing_days, 1_000),
        ] {
            checks.require(days.is_none_or(|days| days <= most), pointer, format!("at most {most}"));
        }
        checks.require(self.plant_back.len() <= 60, "/plant_back", "enter at most 60 crops");
        for (index, wait) in self.plant_back.iter().enumerate() {
            check_words(&mut checks, &format!("/plant_back/{index}/crop"), &wait.crop, true);
            let at = format!("/plant_back/{index}/days");
            checks.require(wait.days <= 2_000, at, format!("{} days; at most 2,000", wait.days));
        }
        if let Some(area) = self.area {
            checks.within("/area", "Area", area, Unit::Ha, 0.001, 20_000.0);
        }
        if let Some(wind) = self.wind {
            checks.within("/wind", "Wind", wind, Unit::KmPerH, 0.0, 200.0);
        }
        if let Some(air) = self.temperature {
            checks.within("/temperature", "Air temperature", air, Unit::DegC, -40.0, 60.0);
        }
        checks.done()
    }

    fn says(&self) -> Said {
        let actives: Vec<&str> = std::iter::once(&self.active).chain(&self.with).map(String::as_str).collect();
        let mut parts = vec![said!("{} {}", self.what.says(), actives.join(" and "))];
        parts.extend(self.product.as_deref().map(|product| said!("as {}", product)));
        parts.extend(self.amount.map(|amount| match amount {
            Rate::Weighed(rate) => said!("{}", rate),
            Rate::Poured(rate) => said!("{}", rate),
        }));
        parts.extend(self.rate.as_deref().map(Said::from));
        parts.extend(self.way.map(|way| Said::from(way.words())));
        parts.extend(self.area.map(|area| said!("on {}", area)));
        parts.extend(self.label_months.map(|months| said!("plant-back {} months (label)", months)));
        parts.extend(self.wind.map(|wind| said!("wind {}", wind)));
        parts.extend(self.temperature.map(|air| said!("air temperature {}", air)));
        parts.extend(self.harvest_days.map(|days| said!("pre-harvest interval {} days", days)));
        parts.extend(self.grazing_days.map(|days| said!("grazing interval {} days", days)));
        Said::joined(parts, ", ")
    }

    fn upgrade(_: i32, payload: Value) -> Result<Value, Unreadable> {
        // Later versions only say more; those before were of herbicides, as one is that says nothing.
        Ok(payload)
    }

    fn of_part(&self, share: f64) -> Self {
        Self { area: self.area.map(|area| area * share), ..self.clone() }
    }

    fn operation(&self) -> Option<&str> {
        Some("spray")
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        let on = inked.0.occurred_on;
        let Some(field) = books.field_of(inked) else { return };
        for active in std::iter::once(&self.active).chain(&self.with) {
            let wait = |wait: &Wait| LabelWait { crop: wait.crop.clone(), days: wait.days };
            let plant_back = self.plant_back.iter().map(wait).collect();
            let spots = matches!(self.way, Some(SprayWay::Spot | SprayWay::Wiped));
            let spray = Spray { active: active.clone(), on, label_months: self.label_months, plant_back, spots };
            // What was sprayed against insects or disease does not stay for the next crop.
            if self.what == SprayKind::Herbicide {
                field.sprays.push(inked.dated(spray));
            }
        }
        let why = self.product.clone().unwrap_or_else(|| self.active.clone());
        field.unfree.push(inked.dated(Unfree {
            why,
            cutting: Self::free_on(self.harvest_days, on),
            grazing: Self::free_on(self.grazing_days, on),
            sowing: self.plant_back.clone(),
        }));
    }
}
