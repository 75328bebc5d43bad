//! The rooms of the core’s crates stand in storeys: each rests on those above it in this list, and on none below.
//! So there are no circles, and a newcomer can read it from the top.

use std::{fs, path::Path};

/// A crate's storeys. What lies in another crate below it needs no line: Cargo lets nothing go up.
struct House {
    folder: &'static str,
    storeys: &'static [&'static [&'static str]],
    /// Fewer paths than these were not read at all.
    paths: usize,
}

const HOUSES: [House; 3] = [
    House {
        folder: "facts",
        storeys: &[
            &["units"],
            &["said", "source"],
            &["caution", "chance", "refusal"],
            &["working"],
            // Words, classes and data.
            &["nutrient", "texture"],
            &["crop"],
        ],
        paths: 15,
    },
    House {
        folder: "kernels",
        storeys: &[
            &["day", "degree_days", "maize", "maths"],
            &["forecast", "frost", "snow", "sun"],
            &["et0", "normals", "soil", "usual", "water"],
            &["generator", "growth"],
            &["years"],
            &["course", "rule"],
            &["cutting", "odds"],
        ],
        paths: 25,
    },
    House {
        folder: "agronomy",
        storeys: &[
            // Reckonings of one thing.
            &[
                "drill", "field", "machine", "plants", "seed", "seedbed", "soil", "sprayer", "spreader", "tank",
                "variety", "weather",
            ],
            // Of several.
            &["counting", "lime", "mix", "nutrients", "sowing", "spraying", "water"],
            &["blend", "forage", "window", "yields"],
            &["establish", "practice", "site"],
            &["choosing"],
        ],
        paths: 25,
    },
];

impl House {
    fn storey(&self, room: &str) -> usize {
        let found = self.storeys.iter().position(|storey| storey.contains(&room));
        found.unwrap_or_else(|| panic!("{room} stands in no storey of {}", self.folder))
    }

    fn has(&self, room: &str) -> bool {
        self.storeys.iter().any(|storey| storey.contains(&room))
    }
}

/// The code of a file, without its tests and comments.
fn code(text: &str) -> String {
    let code = text.split("#[cfg(test)]").next().unwrap_or_default();
    code.lines().map(|line| line.split("//").next().unwrap_or_default()).collect::<Vec<_>>().join("\n")
}

/// The rooms that `crate::…` paths lead to: `crate::crop::Crop`, and each of `crate::{crop::Crop, units}`.
fn rooms_used(code: &str) -> Vec<String> {
    let mut found = Vec::new();
    let word =
        |text: &str| -> String { text.trim_start().chars().take_while(|c| c.is_alphanumeric() || *c == '_').collect() };
    for (at, _) in code.match_indices("crate::") {
        let rest = &code[at + "crate::".len()..];
        let Some(group) = rest.strip_prefix('{') else {
            found.push(word(rest));
            continue;
        };
        let (mut depth, mut start) = (0, 0);
        for (here, sign) in group.char_indices() {
            match sign {
                '{' => depth += 1,
                '}' if depth == 0 => {
                    found.push(word(&group[start..here]));
                    break;
                }
                '}' => depth -= 1,
                ',' if depth == 0 => {
                    found.push(word(&group[start..here]));
                    start = here + 1;
                }
                _ => {}
            }
        }
    }
    found
}

fn look(house: &House, room: &str, path: &Path, seen: &mut usize) {
    if path.is_dir() {
        for entry in fs::read_dir(path).unwrap() {
            look(house, room, &entry.unwrap().path(), seen);
        }
        return;
    }
    for used in rooms_used(&code(&fs::read_to_string(path).unwrap())) {
        // Macros of the root have no room, nor has what comes from a crate below.
        if used == room || !house.has(&used) {
            continue;
        }
        assert!(house.storey(&used) < house.storey(room), "{}: {room} may not rest on {used}", path.display());
        *seen += 1;
    }
}

#[test]
fn each_room_rests_on_those_above_it() {
    for house in &HOUSES {
        let src = Path::new(env!("CARGO_MANIFEST_DIR")).join("..").join(house.folder).join("src");
        let mut seen = 0;
        for entry in fs::read_dir(&src).unwrap() {
            let path = entry.unwrap().path();
            let room = path.file_stem().unwrap().to_str().unwrap().to_owned();
            if room != "lib" {
                look(house, &room, &path, &mut seen);
            }
        }
        assert!(seen >= house.paths, "only {seen} paths were read in {}", house.folder);
    }
}

#[test]
fn a_path_is_read_with_its_groups() {
    let code = "use crate::{crop::{Crop, library}, given, units::Unit};\ncrate::weather::Day";
    assert_eq!(rooms_used(code), ["crop", "given", "units", "weather"]);
}
