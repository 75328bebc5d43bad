//! Many people at many farms, for `./ink load`: `people ADDRESS HOW-MANY SECONDS`.
//!
//! Each signs in as `pN@example.org` and goes from page to page of their farm, fifteen seconds apart on the average. What
//! the pages took is told twice: while nothing of their farms was at hand, and after.

use std::{
    collections::BTreeMap,
    sync::{Arc, Mutex},
    time::{Duration, Instant},
};

use anyhow::Context;
use serde_json::{Value, json};

/// Between two pages.
const THINKS: Duration = Duration::from_secs(15);

/// Numbers that look drawn by lot, the same at every run (an LCG of Knuth's).
struct Lot(u64);

impl Lot {
    fn below(&mut self, many: usize) -> usize {
        self.0 = self.0.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        (self.0 >> 33) as usize % many.max(1)
    }
}

/// What a page took, and whether it was answered.
type Took = Arc<Mutex<Vec<(Duration, u16)>>>;

struct Person {
    client: reqwest::Client,
    at: String,
    cookie: String,
    fields: Vec<String>,
}

impl Person {
    async fn comes(address: &str, number: usize) -> anyhow::Result<Self> {
        // A browser's lines are closed while somebody reads.
        let client = reqwest::Client::builder().no_proxy().pool_max_idle_per_host(0).build()?;
        let who = json!({"email": format!("p{number}@example.org"), "password": "hay before rain"}).to_string();
        let sign_in =
            client.post(format!("{address}/api/sign-in")).header("content-type", "application/json").body(who);
        let let_in = sign_in.send().await?.error_for_status()?;
        let cookie = let_in.headers()["set-cookie"].to_str()?.split(';').next().unwrap_or_default().to_owned();
        let me: Value = serde_json::from_str(&let_in.text().await?)?;
        let at = format!("{address}/api/farms/{}", me["farms"][0]["id"].as_str().context("a farm")?);
        let mut person = Self { client, at, cookie, fields: vec![] };
        let asked = person.client.get(format!("{}/fields", person.at)).header("cookie", &person.cookie);
        let fields: Value = serde_json::from_str(&asked.send().await?.text().await?)?;
        let all = fields["fields"].as_array().context("fields")?.iter();
        person.fields = all.filter_map(|field| field["id"].as_str().map(str::to_owned)).collect();
        Ok(person)
    }

    /// Ask for a page as a browser does, to its last byte; the status.
    async fn asks(&self, page: &str) -> anyhow::Result<u16> {
        let asked = self.client.get(format!("{}/{page}", self.at)).header("cookie", &self.cookie);
        let answer = asked.header("accept-encoding", "gzip").send().await?;
        let status = answer.status().as_u16();
        answer.bytes().await?;
        Ok(status)
    }

    /// From page to page until it is over.
    async fn goes(self, mut lot: Lot, took: Took, until: Instant) {
        let pause = |lot: &mut Lot, most: u32| THINKS * lot.below(1_000) as u32 / 1_000 * most;
        tokio::time::sleep(pause(&mut lot, 1)).await;
        while Instant::now() < until {
            let field = &self.fields[lot.below(self.fields.len())];
            let page = match lot.below(10) {
                0..=3 => "season".to_owned(),
                4..=5 => format!("fields/{field}"),
                6 => format!("fields/{field}/ground"),
                7 => "lots".to_owned(),
                8 => "weather?from=2026-01-01&to=2026-12-31".to_owned(),
                _ => "entries".to_owned(),
            };
            let begun = Instant::now();
            let status = self.asks(&page).await.unwrap_or(0);
            took.lock().expect("whole").push((begun.elapsed(), status));
            tokio::time::sleep(pause(&mut lot, 2)).await;
        }
    }
}

fn told(took: &Took, when: &str) {
    let mut all = std::mem::take(&mut *took.lock().expect("whole"));
    all.sort_unstable();
    let within = |share: f64| all.get((all.len() as f64 * share) as usize).map_or(0, |(time, _)| time.as_millis());
    let mut not: BTreeMap<u16, usize> = BTreeMap::new();
    all.iter().filter(|(_, status)| *status != 200).for_each(|(_, status)| *not.entry(*status).or_default() += 1);
    let (half, most) = (within(0.5), within(0.99));
    println!("{when}: {} pages, half within {half} ms, 99 in 100 within {most} ms; not answered: {not:?}", all.len());
}

#[tokio::main]
async fn main() -> anyhow::Result<()> {
    let arguments: Vec<String> = std::env::args().skip(1).collect();
    let [address, many, seconds] = &arguments[..] else { anyhow::bail!("people ADDRESS HOW-MANY SECONDS") };
    let (many, seconds): (usize, u64) = (many.parse()?, seconds.parse()?);
    let mut people = vec![];
    for number in 1..=many {
        people.push(Person::comes(address, number).await?);
    }
    let took = Took::default();
    let until = Instant::now() + Duration::from_secs(seconds);
    let going: Vec<_> = people
        .into_iter()
        .enumerate()
        .map(|(number, person)| tokio::spawn(person.goes(Lot(number as u64), took.clone(), until)))
        .collect();
    tokio::time::sleep(Duration::from_secs(seconds / 2)).await;
    told(&took, &format!("{many} farms, nothing at hand"));
    for one in going {
        one.await?;
    }
    told(&took, "The same, going on");
    Ok(())
}
