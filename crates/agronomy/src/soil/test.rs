//! One soil test, layer by layer.

use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    refusal::{Checks, Refused},
    units::{Charge, ChargePerVolume, Conductivity, Fraction, Length, SoilContent, Unit},
};

/// How phosphorus was extracted.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum PMethod {
    BrayP1,
    Mehlich3,
    Olsen,
}

impl PMethod {
    /// As people write it.
    pub fn words(self) -> &'static str {
        match self {
            Self::BrayP1 => "Bray P1",
            Self::Mehlich3 => "Mehlich-3",
            Self::Olsen => "Olsen",
        }
    }
}

/// Phosphorus with its method.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PTest {
    /// Extracted phosphorus (as P, not P₂O₅).
    pub value: SoilContent,
    /// By which method.
    pub method: PMethod,
}

/// What a report says of the acidity that lime has to meet.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "by", rename_all = "kebab-case", deny_unknown_fields)]
pub enum AcidityTest {
    /// SMP buffer pH (the lime test index is ten times that).
    Smp {
        /// Buffer pH.
        buffer_ph: f64,
    },
    /// Sikora buffer pH.
    Sikora {
        /// Buffer pH.
        buffer_ph: f64,
    },
    /// Adams–Evans buffer pH.
    AdamsEvans {
        /// Buffer pH.
        buffer_ph: f64,
    },
    /// Mehlich buffer acidity.
    Mehlich {
        /// Acidity by volume.
        acidity: ChargePerVolume,
    },
}

/// A layer of soil as tested.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Layer {
    /// Upper edge.
    pub from: Length,
    /// Lower edge.
    pub to: Length,
    /// pH in water.
    pub ph: f64,
    /// Buffer or acidity, as the laboratory does it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub acidity: Option<AcidityTest>,
    /// Phosphorus.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub p: Option<PTest>,
    /// Exchangeable potassium (as K).
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub k: Option<SoilContent>,
    /// Exchangeable magnesium.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mg: Option<SoilContent>,
    /// Exchangeable calcium.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub ca: Option<SoilContent>,
    /// Sulfate sulfur.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub s: Option<SoilContent>,
    /// Boron.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub b: Option<SoilContent>,
    /// Zinc.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub zn: Option<SoilContent>,
    /// Cation exchange capacity.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub cec: Option<Charge>,
    /// Base saturation.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub base_saturation: Option<Fraction>,
    /// Organic matter.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub organic_matter: Option<Fraction>,
    /// Soluble salts: conductivity of the extract of a saturated paste.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub salts: Option<Conductivity>,
}

impl Layer {
    /// A layer with its pH and nothing else.
    pub fn new(from: Length, to: Length, ph: f64) -> Self {
        Self {
            from,
            to,
            ph,
            acidity: None,
            p: None,
            k: None,
            mg: None,
            ca: None,
            s: None,
            b: None,
            zn: None,
            cec: None,
            base_saturation: None,
            organic_matter: None,
            salts: None,
        }
    }

    fn check(&self, at: &str, checks: &mut Checks) {
        checks.within(&format!("{at}/from"), "Layer top", self.from, Unit::Cm, 0.0, 300.0);
        checks.within(&format!("{at}/to"), "Layer bottom", self.to, Unit::Cm, 1.0, 400.0);
        checks.require(self.to > self.from, format!("{at}/to"), "the layer bottom must be below the top");
        checks.require((2.5..=11.0).contains(&self.ph), format!("{at}/ph"), format!("pH is {}; enter 2.5–11", self.ph));
        match self.acidity {
            Some(
                AcidityTest::Smp { buffer_ph }
                | AcidityTest::Sikora { buffer_ph }
                | AcidityTest::AdamsEvans { buffer_ph },
            ) => checks.require(
                (4.5..=8.0).contains(&buffer_ph),
                format!("{at}/acidity/buffer_ph"),
                format!("Buffer pH is {buffer_ph}; enter 4.5–8"),
            ),
            Some(AcidityTest::Mehlich { acidity }) => {
                checks.within(&format!("{at}/acidity/acidity"), "Acidity", acidity, Unit::MeqPer100Cm3, 0.0, 30.0)
            }
            None => {}
        }
        if let Some(p) = self.p {
            checks.within(&format!("{at}/p/value"), "Phosphorus", p.value, Unit::Ppm, 0.0, 2_000.0);
        }
        let contents = [
            ("k", "potassium", self.k, 5_000.0),
            ("mg", "magnesium", self.mg, 10_000.0),
            ("ca", "calcium", self.ca, 50_000.0),
            ("s", "sulfur", self.s, 5_000.0),
            ("b", "boron", self.b, 50.0),
            ("zn", "zinc", self.zn, 500.0),
        ];
        for (field, name, value, most) in contents {
            if let Some(value) = value {
                checks.within(&format!("{at}/{field}"), name, value, Unit::Ppm, 0.0, most);
            }
        }
        if let Some(cec) = self.cec {
            checks.positive(&format!("{at}/cec"), "CEC", cec, Unit::MeqPer100G, 150.0);
        }
        if let Some(share) = self.base_saturation {
            checks.within(&format!("{at}/base_saturation"), "Base saturation", share, Unit::Percent, 0.0, 100.0);
        }
        if let Some(salts) = self.salts {
            checks.within(&format!("{at}/salts"), "Soluble salts (ECe)", salts, Unit::DsPerM, 0.0, 100.0);
        }
        if let Some(share) = self.organic_matter {
            checks.within(&format!("{at}/organic_matter"), "Organic matter", share, Unit::Percent, 0.0, 100.0);
        }
    }
}

/// A soil test of a field.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SoilTest {
    /// Who tested.
    pub laboratory: String,
    /// The sample's name at the laboratory.
    #[serde(default)]
    pub sample: String,
    /// Day the cores were taken.
    #[schema(value_type = String, format = Date)]
    pub sampled_on: Date,
    /// Layers, from the top.
    pub layers: Vec<Layer>,
}

impl SoilTest {
    /// Refuse what can't be.
    ///
    /// # Errors
    /// One refusal per field, pointers relative to the test.
    pub fn check(&self) -> Result<(), Refused> {
        let mut checks = Checks::new();
        checks.require(!self.layers.is_empty(), "/layers", "enter at least one layer");
        checks.require(self.layers.len() <= 12, "/layers", "enter at most 12 layers");
        checks.require(self.laboratory.chars().count() <= 200, "/laboratory", "the name is longer than 200 letters");
        checks.require(self.sample.chars().count() <= 200, "/sample", "the name is longer than 200 letters");
        for (index, layer) in self.layers.iter().enumerate() {
            layer.check(&format!("/layers/{index}"), &mut checks);
        }
        for (index, pair) in self.layers.windows(2).enumerate() {
            checks.require(
                pair[1].from >= pair[0].to - Length::new(0.5, Unit::Cm),
                format!("/layers/{}/from", index + 1),
                "layers must run downward without overlap",
            );
        }
        checks.done()
    }

    /// The plough layer: the uppermost.
    pub fn top(&self) -> Option<&Layer> {
        self.layers.first()
    }

    /// The lowest pH of layers that reach below a depth.
    pub fn lowest_ph_below(&self, depth: Length) -> Option<f64> {
        let below =
            self.layers.iter().filter(|layer| layer.to > depth && layer.from + Length::new(1.0, Unit::Cm) > depth);
        below.map(|layer| layer.ph).reduce(f64::min)
    }

    /// Months from sampling to a day.
    pub fn months_old(&self, today: Date) -> i32 {
        self.sampled_on.until((jiff::Unit::Month, today)).map_or(0, |months| months.get_months())
    }
}
