//! The core in layers: what stands higher may use what stands lower, never the other way round.

use std::collections::{BTreeMap, BTreeSet};
use std::path::Path;

/// From the words of the field up to what is decided. A module may use those of its own layer and of the layers below.
const LAYERS: &[(&str, &[&str])] = &[
    (
        "words",
        &[
            "units",
            "anatomy",
            "ranges",
            "quantity",
            "contact",
            "dose",
            "execution",
            "method",
            "notes",
            "screening",
            "measures",
            "reps",
            "holds",
        ],
    ),
    ("person", &["person", "aims"]),
    ("mechanics", &["mechanics"]),
    // A band's force is mechanics; what a place holds stands on it.
    ("kit", &["kit"]),
    ("movement", &["movement", "posture", "plan", "arrangement", "school", "reading"]),
    ("rigging", &["rigging", "figure"]),
    ("ladder", &["ladder", "handling", "safety", "reference", "purchase"]),
    ("evidence", &["log", "strength", "volume", "review", "across", "example"]),
    ("choice", &["fit", "spot", "spare", "feasibility"]),
    ("performing", &["between", "stepped", "set_ups", "script", "warm_up", "clock", "shorten"]),
    ("deciding", &["progress", "week", "calendar", "template", "reminding"]),
    ("judging", &["evaluate"]),
    ("wording", &["wording"]),
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

/// Every file by its path of modules, without comments.
fn files() -> BTreeMap<String, String> {
    fn walk(root: &Path, path: &Path, found: &mut BTreeMap<String, String>) {
        for entry in std::fs::read_dir(path).unwrap() {
            let path = entry.unwrap().path();
            if path.is_dir() {
                walk(root, &path, found);
                continue;
            }
            let inside = path.strip_prefix(root).unwrap().with_extension("");
            let name = inside.to_str().unwrap().replace('/', "::");
            let text = std::fs::read_to_string(&path).unwrap();
            let code: Vec<&str> = text.lines().map(|l| l.split("//").next().unwrap_or_default()).collect();
            found.insert(name.trim_end_matches("::mod").to_owned(), code.join("\n"));
        }
    }
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("src");
    let mut found = BTreeMap::new();
    walk(&root, &root, &mut found);
    found.remove("lib");
    found
}

/// The statements `use ...;` of a file, blanks taken out (`a as b` is `a=b`). What it only hands on counts where `handed_on` asks for it.
fn statements(code: &str, handed_on: bool) -> Vec<String> {
    let starts = code.match_indices("use ").filter(|(at, _)| {
        let line = code[..*at].rsplit('\n').next().unwrap_or_default().trim();
        line.is_empty() || (handed_on && line.starts_with("pub"))
    });
    starts
        .map(|(at, _)| {
            code[at + 4..].split(';').next().unwrap_or_default().replace(" as ", "=").split_whitespace().collect()
        })
        .collect()
}

/// The single paths of a `use`: `a::{b,c::{d}}` is `a::b` and `a::c::d`.
fn paths(statement: &str) -> Vec<String> {
    let Some((before, rest)) = statement.split_once('{') else { return vec![statement.to_owned()] };
    let inside = &rest[..rest.rfind('}').unwrap_or(rest.len())];
    let (mut parts, mut depth, mut from) = (Vec::new(), 0, 0);
    for (i, c) in inside.char_indices() {
        match c {
            '{' => depth += 1,
            '}' => depth -= 1,
            ',' if depth == 0 => {
                parts.push(&inside[from..i]);
                from = i + 1;
            }
            _ => {}
        }
    }
    parts.push(&inside[from..]);
    parts.iter().filter(|p| !p.is_empty()).flat_map(|p| paths(&format!("{before}{p}"))).collect()
}

/// The full path of what is named in a module.
fn absolute(path: &str, module: &str, files: &BTreeMap<String, String>) -> Option<Vec<String>> {
    let mut here: Vec<String> = module.split("::").map(str::to_owned).collect();
    let mut parts: Vec<&str> = path.split("::").collect();
    match parts[0] {
        "crate" => here.clear(),
        "self" => {}
        "super" => {
            while parts.get(1) == Some(&"super") {
                here.pop();
                parts.remove(0);
            }
            here.pop();
        }
        // A child, as its parent names it.
        child if files.contains_key(&format!("{module}::{child}")) => here.push(child.to_owned()),
        _ => return None,
    }
    here.extend(parts[1..].iter().map(|p| (*p).to_owned()));
    Some(here)
}

/// The file in which what a path names is written: through what is handed on.
fn written_in(path: &[String], files: &BTreeMap<String, String>) -> Option<String> {
    let (module, name) = (0..path.len()).rev().find_map(|n| {
        let module = path[..=n].join("::");
        files.contains_key(&module).then(|| (module, path.get(n + 1)))
    })?;
    let Some(name) = name else { return Some(module) };
    let handed = statements(&files[&module], true).into_iter().flat_map(|s| paths(&s)).find(|p| {
        let last = p.rsplit("::").next().unwrap_or_default();
        last == name || last.ends_with(&format!("={name}"))
    });
    match handed.and_then(|p| absolute(p.split('=').next().unwrap_or(&p), &module, files)) {
        Some(further) if further != path => written_in(&further, files),
        _ => Some(module),
    }
}

/// What each file uses of others: its `use` lines, what it names by its path, and the children that a parent calls.
fn imports(files: &BTreeMap<String, String>) -> BTreeMap<String, BTreeSet<String>> {
    let mut found: BTreeMap<String, BTreeSet<String>> = BTreeMap::new();
    for (module, code) in files {
        let mut named: Vec<String> = statements(code, false).iter().flat_map(|s| paths(s)).collect();
        let children = files.keys().filter_map(|k| k.strip_prefix(&format!("{module}::"))).map(|c| format!("{c}::"));
        let hands_on = |line: &str| line.trim_start().starts_with("pub") && line.contains(" use ");
        let bodies = code.lines().filter(|l| !hands_on(l)).collect::<Vec<_>>().join("\n");
        for start in children.chain(["crate::".to_owned(), "super::".to_owned()]) {
            named.extend(bodies.match_indices(&start).filter_map(|(at, _)| {
                let fresh = !bodies[..at].ends_with(|c: char| c.is_alphanumeric() || c == ':' || c == '_');
                let end = |c: char| !(c.is_alphanumeric() || c == '_' || c == ':');
                fresh.then(|| bodies[at..].split(end).next().unwrap_or_default().trim_end_matches(':').to_owned())
            }));
        }
        let used = found.entry(module.clone()).or_default();
        used.extend(
            named.iter().filter_map(|n| written_in(&absolute(n, module, files)?, files)).filter(|u| u != module),
        );
    }
    found
}

/// No file uses itself through others, however long the way.
#[test]
fn files_go_round_in_no_circle() {
    let files = files();
    let imports = imports(&files);
    assert!(imports.values().map(BTreeSet::len).sum::<usize>() > 400, "the arrows are found");
    for (module, arrow) in
        [("ladder::rungs", "ladder::rung"), ("fit::score", "fit::case"), ("rigging::added", "rigging::body")]
    {
        assert!(imports[module].contains(arrow), "{module}: {:?}", imports[module]);
    }
    for start in imports.keys() {
        let (mut open, mut from) = (vec![start], BTreeMap::new());
        while let Some(module) = open.pop() {
            for next in &imports[module] {
                assert!(next != start, "{start} uses itself through {module} (by {from:?})");
                if from.insert(next, module).is_none() {
                    open.push(next);
                }
            }
        }
    }
}
