//! The core in layers: what stands higher may use what stands lower, never the other way round.

use std::collections::{BTreeMap, BTreeSet};
use std::path::Path;

/// From the words of the field up to what is decided. A module may use those of its own layer and of the layers below.
const LAYERS: &[(&str, &[&str])] = &[
    ("words", &["units", "anatomy", "ranges", "dose", "method", "notes", "screening", "measures", "reps"]),
    ("person", &["person", "aims"]),
    ("mechanics", &["mechanics"]),
    // A band's force is mechanics; what a place holds stands on it.
    ("kit", &["kit"]),
    ("movement", &["movement", "posture", "plan"]),
    ("rigging", &["rigging", "figure"]),
    ("ladder", &["ladder", "handling", "safety", "reference", "purchase"]),
    ("evidence", &["log", "strength", "volume", "simulate", "example"]),
    ("choice", &["fit", "spot", "feasibility"]),
    ("performing", &["script"]),
    ("deciding", &["progress"]),
];

/// What a module uses of others, read off its files.
fn uses() -> BTreeMap<String, BTreeSet<String>> {
    fn walk(path: &Path, module: &str, found: &mut BTreeMap<String, BTreeSet<String>>) {
        if path.is_dir() {
            for entry in std::fs::read_dir(path).unwrap() {
                walk(&entry.unwrap().path(), module, found);
            }
            return;
        }
        let text = std::fs::read_to_string(path).unwrap();
        let used = found.entry(module.to_owned()).or_default();
        for (_, rest) in text.match_indices("crate::").map(|(at, word)| (at, &text[at + word.len()..])) {
            let name: String = rest.chars().take_while(|c| c.is_ascii_lowercase() || *c == '_').collect();
            if !name.is_empty() && name != module {
                used.insert(name);
            }
        }
    }
    let mut found = BTreeMap::new();
    for entry in std::fs::read_dir(Path::new(env!("CARGO_MANIFEST_DIR")).join("src")).unwrap() {
        let path = entry.unwrap().path();
        let module = path.file_stem().unwrap().to_str().unwrap().to_owned();
        if module != "lib" {
            walk(&path, &module, &mut found);
        }
    }
    found
}

fn layer(module: &str) -> Option<usize> {
    LAYERS.iter().position(|(_, modules)| modules.contains(&module))
}

#[test]
fn every_module_has_its_layer() {
    let found: BTreeSet<String> = uses().into_keys().collect();
    let known: BTreeSet<String> = LAYERS.iter().flat_map(|(_, m)| *m).map(|m| (*m).to_owned()).collect();
    assert_eq!(found, known);
}

#[test]
fn nothing_reaches_upwards() {
    let (uses, mut arrows) = (uses(), 0);
    for (module, used) in &uses {
        for other in used.iter().filter(|o| uses.contains_key(*o)) {
            arrows += 1;
            assert!(layer(other) <= layer(module), "{module} uses {other}, which stands above it");
        }
    }
    assert!(arrows > 100, "{arrows}");
}

/// Within a layer, too: no module uses itself through others.
#[test]
fn modules_go_round_in_no_circle() {
    let uses = uses();
    for start in uses.keys() {
        let (mut open, mut seen) = (vec![start], BTreeSet::new());
        while let Some(module) = open.pop() {
            for next in uses.get(module).into_iter().flatten().filter(|n| uses.contains_key(*n)) {
                assert!(next != start, "{start} uses itself through {module}");
                if seen.insert(next) {
                    open.push(next);
                }
            }
        }
    }
}
