//! A laboratory reported on the soil.

use agronomy::{
    refusal::{Checks, Refused},
    said,
    said::Said,
    soil,
    units::{Charge, ChargePerVolume, Conductivity, Fraction, Length, Quantity, SoilContent, Unit},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    book::{Books, Inked},
    record::Record,
    shape::{Turn, stands_for, words},
};

words! {
    /// How phosphorus was extracted.
    PMethod as RecordedPMethod = soil::PMethod { "bray-p1" BrayP1, "mehlich3" Mehlich3, "olsen" Olsen }
}

/// Phosphorus with its method.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedP)]
pub struct PTest {
    /// Extracted phosphorus, as P.
    pub value: SoilContent,
    /// By which method.
    pub method: PMethod,
}
stands_for!(PTest = soil::PTest { value, method });

/// What a report says of the acidity that lime has to meet.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "by", rename_all = "kebab-case", deny_unknown_fields)]
#[schema(as = RecordedAcidity)]
pub enum Acidity {
    /// SMP buffer pH.
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

impl Turn<soil::AcidityTest> for Acidity {
    fn turn(self) -> soil::AcidityTest {
        match self {
            Self::Smp { buffer_ph } => soil::AcidityTest::Smp { buffer_ph },
            Self::Sikora { buffer_ph } => soil::AcidityTest::Sikora { buffer_ph },
            Self::AdamsEvans { buffer_ph } => soil::AcidityTest::AdamsEvans { buffer_ph },
            Self::Mehlich { acidity } => soil::AcidityTest::Mehlich { acidity },
        }
    }
}

impl Turn<Acidity> for soil::AcidityTest {
    fn turn(self) -> Acidity {
        match self {
            Self::Smp { buffer_ph } => Acidity::Smp { buffer_ph },
            Self::Sikora { buffer_ph } => Acidity::Sikora { buffer_ph },
            Self::AdamsEvans { buffer_ph } => Acidity::AdamsEvans { buffer_ph },
            Self::Mehlich { acidity } => Acidity::Mehlich { acidity },
        }
    }
}

/// A layer of soil as tested.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedLayer)]
pub struct Layer {
    /// Upper edge.
    pub from: Length,
    /// Lower edge.
    pub to: Length,
    /// pH in water.
    pub ph: f64,
    /// Buffer or acidity, as the laboratory does it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub acidity: Option<Acidity>,
    /// Phosphorus.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub p: Option<PTest>,
    /// Exchangeable potassium, as K.
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
    /// Soluble salts, of a saturated paste.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub salts: Option<Conductivity>,
}
stands_for!(Layer = soil::Layer {
    from, to, ph, acidity, p, k, mg, ca, s, b, zn, cec, base_saturation, organic_matter, salts,
});

/// What a laboratory found.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedSoilTest)]
pub struct Test {
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
stands_for!(Test = soil::SoilTest { laboratory, sample, sampled_on, layers });

/// A laboratory reported on the soil.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SoilTestReport {
    /// What it found.
    pub test: Test,
}

impl SoilTestReport {
    /// Of a test.
    pub fn of(test: soil::SoilTest) -> Self {
        Self { test: test.turn() }
    }
}

impl Record for SoilTestReport {
    const KIND: &'static str = "soil-test";
    const TITLE: &'static str = "Soil test";

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        let test: soil::SoilTest = self.test.clone().turn();
        checks.part("/test", test.check());
        checks.done()
    }

    fn says(&self) -> Said {
        let test: soil::SoilTest = self.test.clone().turn();
        let mut figures: Vec<Said> = vec![];
        if let Some(top) = test.top() {
            figures.push(said!("pH {}", top.ph));
            match top.acidity {
                Some(
                    soil::AcidityTest::Smp { buffer_ph }
                    | soil::AcidityTest::Sikora { buffer_ph }
                    | soil::AcidityTest::AdamsEvans { buffer_ph },
                ) => figures.push(said!("buffer {}", buffer_ph)),
                Some(soil::AcidityTest::Mehlich { acidity }) => figures.push(said!("acidity {}", acidity)),
                None => {}
            }
            let ppm = |content: SoilContent| Quantity::new(content.to(Unit::Ppm), Unit::Ppm);
            figures.extend(top.p.map(|p| said!("P {} {}", ppm(p.value), p.method.words())));
            figures.extend(top.k.map(|k| said!("K {}", ppm(k))));
        }
        said!("{}: {}", test.laboratory, Said::joined(figures, ", "))
    }

    fn operation(&self) -> Option<&str> {
        Some("sample-soil")
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        let test: soil::SoilTest = self.test.clone().turn();
        if let Some(field) = books.field_of(inked) {
            let mut dated = inked.dated(test);
            // What counts is the day the cores were taken, not the day the report came.
            dated.on = dated.what.sampled_on;
            field.tests.push(dated);
            field.tests.sort_by_key(|test| test.on);
        }
    }
}
