//! Settings by option, environment and file.

use clap::Command;
use clap::{Arg, ArgAction};
use server::config::{read, told, with_file};

fn command() -> Command {
    let arg = |id: &'static str, key: &'static str| Arg::new(id).long(id).env(key).action(ArgAction::Set);
    Command::new("x").subcommand(
        Command::new("config")
            .arg(arg("port", "INK_TEST_CONFIG_PORT").default_value("4747"))
            .arg(arg("database", "INK_TEST_CONFIG_DATABASE").required(true))
            .arg(arg("cookie_key", "INK_TEST_CONFIG_KEY")),
    )
}

fn told_by(text: &str, options: &[&str]) -> String {
    let file = read(text).unwrap();
    let command = with_file(command(), &file);
    let matches = command.clone().get_matches_from([&["x", "config"], options].concat());
    told(&command, &matches, &file)
}

#[test]
fn an_option_goes_before_the_file_and_no_secret_is_told() {
    let text = "# ours\nINK_TEST_CONFIG_PORT=5000\nINK_TEST_CONFIG_DATABASE=\"postgres://me:hush@db/ink\"\nINK_TEST_CONFIG_KEY=abcd";
    let lines = told_by(text, &[]);
    assert!(lines.contains("5000") && lines.contains("postgres://me:…@db/ink") && lines.contains("file"), "{lines}");
    assert!(!lines.contains("hush") && !lines.contains("abcd"), "{lines}");
    let lines = told_by(text, &["--port", "6000"]);
    assert!(lines.lines().any(|line| line.contains("6000") && line.ends_with("option")), "{lines}");
    assert!(!lines.contains("5000"), "{lines}");
}

#[test]
fn a_line_that_is_no_setting_is_named() {
    for (text, why) in [("port", "line 1"), ("PATH=/bin", "PATH"), ("INK_A=1\nINK_A=2", "twice")] {
        let error = read(text).unwrap_err().to_string();
        assert!(error.contains(why), "{error}");
    }
}
