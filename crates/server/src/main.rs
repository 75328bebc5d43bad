//! The command line of Ink Meadow.

use std::{
    io::{Read, Write},
    path::PathBuf,
    process::ExitCode,
};

use actix_web::{HttpServer, cookie::Key, web};
use anyhow::Context;
use clap::{Args, CommandFactory, FromArgMatches, Parser, Subcommand};
use server::{api, app, archive, config, demo, door::Standing, metrics, reckon};
use stand_ins::weather_station::Stations;

/// What a large answer took is given back when it has gone, not kept for the next one.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

#[derive(Parser)]
#[command(name = "inkmeadow", version, about = "Plans, times, measures and records forage stands.")]
struct Arguments {
    #[command(subcommand)]
    command: Command,
}

/// How the application is served: by option, by environment, or by the file that `INK_CONFIG` names, in that order.
#[derive(Args)]
struct Serving {
    /// Port on 127.0.0.1.
    #[arg(long, env = "INK_PORT", default_value_t = 4747)]
    port: u16,
    /// Address of the database, as the application's role.
    #[arg(long, env = "INK_DATABASE_URL", hide_env_values = true)]
    database: String,
    /// Folder of the built front end.
    #[arg(long, env = "INK_WEB")]
    web: Option<PathBuf>,
    /// Address of a seed laboratory.
    #[arg(long, env = "INK_SEED_LABORATORY")]
    seed_laboratory: Option<String>,
    /// Address of a soil laboratory.
    #[arg(long, env = "INK_SOIL_LABORATORY")]
    soil_laboratory: Option<String>,
    /// Address of a weather service.
    #[arg(long, env = "INK_WEATHER_STATION")]
    weather_station: Option<String>,
    /// Address of a scale that sends its weight.
    #[arg(long, env = "INK_SCALE")]
    scale: Option<String>,
    /// Hexadecimal key (64 bytes) that signs cookies. If absent, a new one is made and everyone is
    /// signed out.
    #[arg(long, env = "INK_COOKIE_KEY", hide_env_values = true)]
    cookie_key: Option<String>,
    /// Sign-in attempts allowed per minute, address and caller.
    #[arg(long, env = "INK_TRIES", default_value_t = 10)]
    tries: u32,
    /// Connections to the database, at most.
    #[arg(long, env = "INK_CONNECTIONS", default_value_t = 8, value_parser = clap::value_parser!(u16).range(1..=200))]
    connections: u16,
    /// TLS ends at a proxy in front: cookies are sent over TLS only, and browsers stay on it.
    #[arg(long, env = "INK_TLS")]
    tls: bool,
    /// Address of a trusted proxy; may be repeated.
    #[arg(long, env = "INK_TRUSTED_PROXY", value_delimiter = ',')]
    trusted_proxy: Vec<std::net::IpAddr>,
    /// Port on 127.0.0.1 for counts and times at /metrics, in the text form that Prometheus reads.
    #[arg(long, env = "INK_METRICS_PORT")]
    metrics_port: Option<u16>,
    /// Folder of daily backups; Set-up shows the age of the last one.
    #[arg(long, env = "INK_BACKUPS")]
    backups: Option<PathBuf>,
}

#[derive(Subcommand)]
enum Command {
    /// Serve the application on loopback.
    Serve(Serving),
    /// Print the effective settings and where each comes from; secrets are hidden.
    Config(Serving),
    /// Migrate the database to this build.
    Migrate {
        /// Address of the database, as the tables' owner.
        #[arg(long, env = "INK_OWNER_URL", hide_env_values = true)]
        database: String,
        /// No further than this migration: as a database of an older build is.
        #[arg(long)]
        until: Option<String>,
    },
    /// Check every farm's ledger and report the first altered entry, and whatever else the ledger covers that was
    /// altered: fields, lots, stands, names, photos.
    Verify {
        /// A seal that was written down, sixteen groups of four letters: report which ledger has it.
        #[arg(long)]
        head: Option<String>,
        /// Address of the database, as any role that may read it.
        #[arg(long, env = "INK_DATABASE_URL", hide_env_values = true)]
        database: String,
    },
    /// Import a farm archive: the same farm to the last entry. Importing again changes nothing.
    Import {
        /// The archive, a zip.
        file: PathBuf,
        /// E-mail address of the account that will manage it.
        #[arg(long)]
        manager: Option<String>,
        /// The key by which the server it came from signs, as that server shows it under Set-up, Data: an archive that is
        /// signed by no key or another one is refused.
        #[arg(long)]
        signed_by: Option<String>,
        /// Address of the database, as the tables' owner.
        #[arg(long, env = "INK_OWNER_URL", hide_env_values = true)]
        database: String,
    },
    /// Make a link by which somebody who signs in here sets a new password, a manager too; good for a day. Whoever holds
    /// it comes in as that person: hand it on to nobody else.
    Reset {
        /// Address by which they sign in.
        email: String,
        /// Address of the database, as the application's role.
        #[arg(long, env = "INK_DATABASE_URL", hide_env_values = true)]
        database: String,
    },
    /// Load the made-up demo farms; existing data is left alone.
    Demo {
        /// Address of the database, as the application's role.
        #[arg(long, env = "INK_DATABASE_URL", hide_env_values = true)]
        database: String,
        /// Only print who can sign in.
        #[arg(long)]
        sign_ins: bool,
    },
    /// Serve the simulated outside services (loopback only).
    StandIns {
        /// Port on 127.0.0.1.
        #[arg(long, default_value_t = 4760)]
        port: u16,
        /// Further weather stations: a JSON object of names and monthly normals, as the topic
        /// weather.generate takes them.
        #[arg(long)]
        stations: Option<PathBuf>,
    },
    /// Run a calculation: reads a JSON request and prints value, working and cautions.
    Reckon {
        /// Topic to run; see --list.
        topic: Option<String>,
        /// The request; standard input when absent.
        file: Option<PathBuf>,
        /// List all topics.
        #[arg(long)]
        list: bool,
        /// Print the JSON Schemas of the topic's request and answer.
        #[arg(long)]
        schema: bool,
    },
    /// Print the OpenAPI document.
    Openapi,
}

fn main() -> ExitCode {
    let file = match config::file() {
        Ok(file) => file,
        Err(error) => {
            eprintln!("inkmeadow: {error:#}");
            return ExitCode::FAILURE;
        }
    };
    let command = config::with_file(Arguments::command(), &file);
    let matches = command.clone().get_matches();
    let arguments = Arguments::from_arg_matches(&matches).unwrap_or_else(|error| error.exit());
    let outcome = match arguments.command {
        Command::Reckon { topic, file, list, schema } => return reckon_command(topic, file, list, schema),
        Command::Openapi => print_json(&serde_json::to_value(api::document()).unwrap_or_default()),
        Command::StandIns { port, stations } => stations_of(stations).and_then(|stations| {
            actix_web::rt::System::new().block_on(stand_ins::serve(port, stations)).map_err(Into::into)
        }),
        Command::Migrate { database, until } => migrate(&database, until.as_deref()),
        Command::Verify { database, head } => actix_web::rt::System::new().block_on(verify(&database, head.as_deref())),
        Command::Import { file, manager, signed_by, database } => actix_web::rt::System::new().block_on(async {
            let archive = std::fs::File::open(&file).with_context(|| file.display().to_string())?;
            let pool = ledger::pool(&database, 1)?;
            fits(&pool).await?;
            println!("{}", archive::import(&pool, archive, manager.as_deref(), signed_by.as_deref()).await?);
            Ok(())
        }),
        Command::Reset { email, database } => actix_web::rt::System::new().block_on(async {
            let pool = ledger::pool(&database, 1)?;
            fits(&pool).await?;
            println!("{}", api::access::reset_by_operator(&pool, &email).await?);
            Ok(())
        }),
        Command::Demo { sign_ins: true, .. } => {
            demo::print_sign_ins();
            Ok(())
        }
        Command::Demo { database, .. } => actix_web::rt::System::new().block_on(async {
            let pool = ledger::pool(&database, 2)?;
            demo::load(&pool).await
        }),
        Command::Config(_) => {
            print!("{}", config::told(&command, &matches, &file));
            Ok(())
        }
        Command::Serve(Serving {
            port,
            database,
            web,
            seed_laboratory,
            soil_laboratory,
            weather_station,
            scale,
            cookie_key,
            tries,
            connections,
            tls,
            trusted_proxy,
            metrics_port,
            backups,
        }) => {
            log_to_standard_error();
            let outside =
                app::Outside { seed_laboratory, soil_laboratory, weather_station, scale, ..app::Outside::default() };
            actix_web::rt::System::new().block_on(async {
                let key = key_of(cookie_key)?;
                let standing = Standing { tls, proxies: trusted_proxy.into_iter().collect() };
                let pool = ledger::pool(&database, connections.into())?;
                fits(&pool).await?;
                let state = web::Data::new(
                    app::State::new(pool, outside, tries)
                        .standing(standing)
                        .backups(backups)
                        .sealing(&key)
                        .keeping_seasons(),
                );
                if let Some(port) = metrics_port {
                    tokio::spawn(metrics::serve(port, state.clone())?);
                }
                actix_web::rt::spawn(api::season::prepare(state.clone()));
                serve(port, web, key, state).await
            })
        }
    };
    match outcome {
        Ok(()) => ExitCode::SUCCESS,
        Err(error) => {
            eprintln!("inkmeadow: {error:#}");
            ExitCode::FAILURE
        }
    }
}

fn stations_of(file: Option<PathBuf>) -> anyhow::Result<Stations> {
    let Some(path) = file else { return Ok(Stations::default()) };
    let text = std::fs::read_to_string(&path).with_context(|| path.display().to_string())?;
    Stations::from_json(&text).map_err(|sentence| anyhow::anyhow!("{}: {sentence}", path.display()))
}

fn log_to_standard_error() {
    use tracing_subscriber::{filter::Targets, layer::SubscriberExt, util::SubscriberInitExt};
    // By target and level, such as `warn` or `info,actix_server=warn`.
    let asked = std::env::var("RUST_LOG").ok().and_then(|asked| asked.parse().ok());
    let filter = asked.unwrap_or_else(|| {
        Targets::new().with_default(tracing::Level::INFO).with_target("actix_server", tracing::Level::WARN)
    });
    let lines = tracing_subscriber::fmt::layer().with_writer(std::io::stderr);
    tracing_subscriber::registry().with(lines).with(filter).init();
}

fn migrate(database: &str, until: Option<&str>) -> anyhow::Result<()> {
    // The migration harness blocks in place: it needs a runtime of more than one thread.
    let runtime = tokio::runtime::Builder::new_multi_thread().worker_threads(2).enable_all().build()?;
    runtime.block_on(ledger::migrate_until(database, until)).context("bringing the database up to date")
}

/// A line a farm; fails when one of them is not sound.
async fn verify(database: &str, head: Option<&str>) -> anyhow::Result<()> {
    let pool = ledger::pool(database, 1)?;
    let mut connection = pool.get().await?;
    let mut unsound = 0;
    let farms = ledger::chain::verify(&mut connection).await?;
    let through = match head {
        Some(head) => Some(ledger::chain::came_through(&mut connection, head).await?),
        None => None,
    };
    for farm in &farms {
        let ledger::chain::Head { position, digest } = &farm.head;
        match &farm.broken {
            None => println!("{}: {position} entries, verified; seal {digest}", farm.name),
            Some(broken) => {
                unsound += 1;
                println!("{}: verified up to entry {position}; {broken}", farm.name);
            }
        }
    }
    anyhow::ensure!(unsound == 0, "{unsound} ledgers have been altered");
    match through {
        None => {}
        Some(None) => anyhow::bail!("no ledger here has come through this head: it is another one, or was altered"),
        Some(Some((id, position))) => {
            let name = farms.iter().find(|farm| farm.farm == id).map_or("", |farm| &farm.name);
            println!("the head you gave is that of {name} at place {position}: nothing before it was altered");
        }
    }
    Ok(())
}

fn key_of(text: Option<String>) -> anyhow::Result<Key> {
    match text {
        Some(text) => Key::try_from(hex::decode(text.trim()).context("the cookie key is not hexadecimal")?.as_slice())
            .context("the cookie key needs 64 bytes"),
        None => Key::try_generate().context("no random bytes for a cookie key"),
    }
}

async fn serve(port: u16, web_folder: Option<PathBuf>, key: Key, state: web::Data<app::State>) -> anyhow::Result<()> {
    tracing::info!("serving http://127.0.0.1:{port}");
    HttpServer::new(move || app::application(state.clone(), key.clone(), web_folder.clone()))
        .workers(2)
        // Small answers go at once, not when there is more to go with them.
        .tcp_nodelay(true)
        // Who hangs up waits no more: what was asked is dropped, and a search for it ends.
        .h1_allow_half_closed(false)
        // What is being answered when the server is told to stop has this long.
        .shutdown_timeout(10)
        .bind(("127.0.0.1", port))?
        .run()
        .await?;
    Ok(())
}

/// Not on tables of another build: what it wrote there could be wrong. A database that is away may come yet.
async fn fits(pool: &ledger::Pool) -> anyhow::Result<()> {
    match pool.get().await {
        Ok(mut connection) => match ledger::shape(&mut connection).await? {
            ledger::Shape::Same => Ok(()),
            other => anyhow::bail!("{other}"),
        },
        Err(error) => {
            tracing::warn!("{error}: serving without it until it comes");
            Ok(())
        }
    }
}

fn print_json(value: &serde_json::Value) -> anyhow::Result<()> {
    let mut out = std::io::stdout().lock();
    serde_json::to_writer_pretty(&mut out, value)?;
    Ok(writeln!(out)?)
}

/// Exit code 2 and one sentence that names the field, when the request can't be taken.
fn reckon_command(topic: Option<String>, file: Option<PathBuf>, list: bool, schema: bool) -> ExitCode {
    let outcome = (|| -> Result<(), String> {
        if list {
            for topic in reckon::topics() {
                println!("{:<14} {}", topic.name, topic.about);
            }
            return Ok(());
        }
        let name = topic.ok_or("give a topic, or use --list")?;
        let topic = reckon::topic(&name).ok_or_else(|| format!("“{name}” is not a topic; see --list"))?;
        if schema {
            return print_json(&topic.json_schemas()).map_err(|error| error.to_string());
        }
        let mut text = String::new();
        match &file {
            Some(path) => {
                text = std::fs::read_to_string(path).map_err(|error| format!("{}: {error}", path.display()))?;
            }
            None => {
                std::io::stdin().read_to_string(&mut text).map_err(|error| format!("standard input: {error}"))?;
            }
        }
        let request = serde_json::from_str(&text).map_err(|error| format!("this is not JSON: {error}"))?;
        let answer = topic.answer(request, None).map_err(|refused| refused.to_string())?;
        print_json(&answer).map_err(|error| error.to_string())
    })();
    match outcome {
        Ok(()) => ExitCode::SUCCESS,
        Err(sentence) => {
            eprintln!("{sentence}");
            ExitCode::from(2)
        }
    }
}
