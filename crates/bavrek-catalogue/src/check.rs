//! What an entry must satisfy beyond its types. Errors start with the field.

use std::collections::BTreeMap;

use bavrek_core::anatomy::Region;
use bavrek_core::movement::PatternPrior;
use bavrek_core::movement::{Catalogue, GymMovement, Movement};
use bavrek_core::person::Person;
use bavrek_core::reference::{Named, Reference};

pub(crate) fn movement(catalogue: &Catalogue, movement: &Movement) -> Result<(), String> {
    identifier("id", &movement.id)?;
    text("name", &movement.name)?;
    for (field, cue) in [
        ("cues.set_up", &movement.cues.set_up),
        ("cues.do", &movement.cues.action),
        ("cues.feel", &movement.cues.feel),
        ("cues.avoid", &movement.cues.avoid),
    ] {
        text(field, cue)?;
    }
    regions(&movement.direct, &movement.assisting)?;
    share("confidence", movement.confidence)?;
    share("stability", movement.stability)?;
    if movement.implements.is_empty() {
        return Err("implements: is empty".into());
    }
    if movement.needs.iter().any(Vec::is_empty) {
        return Err("needs: a need has no alternative".into());
    }
    let carry = &movement.carry_over;
    if !catalogue.priors.contains_key(&carry.pattern) {
        return Err(format!("carry_over.pattern: {:?} is not known", carry.pattern));
    }
    if !(0.05..=5.0).contains(&carry.ratio) {
        return Err("carry_over.ratio: must be 0.05 to 5".into());
    }
    if !(0.0..=0.6).contains(&carry.log_sd) || !(0.1..=4.0).contains(&carry.basis) {
        return Err("carry_over.log_sd: must be 0 to 0.6, and basis 0.1 to 4".into());
    }
    for (field, neighbour) in [("easier", &movement.easier), ("harder", &movement.harder)] {
        if let Some(id) = neighbour
            && catalogue.movement(id).is_none()
        {
            return Err(format!("{field}: {id:?} is not known"));
        }
    }
    match movement.cautions.iter().find(|code| !catalogue.cautions.contains_key(*code)) {
        Some(code) => Err(format!("cautions: {code:?} is not known")),
        None => Ok(()),
    }
}

pub(crate) fn gym_movement(catalogue: &Catalogue, movement: &GymMovement) -> Result<(), String> {
    identifier("id", &movement.id)?;
    text("name", &movement.name)?;
    if Named::find(catalogue, &movement.id).is_some() {
        return Err("id: is used twice".into());
    }
    regions(&movement.direct, &movement.assisting)?;
    match Reference::of(Named::Gym(movement), &Person::default_figure()) {
        Some(_) => Ok(()),
        None => Err("resistance: does not load the target".into()),
    }
}

fn regions(direct: &BTreeMap<Region, f64>, assisting: &BTreeMap<Region, f64>) -> Result<(), String> {
    if direct.is_empty() {
        return Err("direct: names no region".into());
    }
    for (field, weights) in [("direct", direct), ("assisting", assisting)] {
        for (region, weight) in weights {
            share(&format!("{field}.{}", region.id()), *weight)?;
        }
    }
    match direct.keys().find(|r| assisting.contains_key(r)) {
        Some(region) => Err(format!("assisting.{}: is direct already", region.id())),
        None => Ok(()),
    }
}

pub(crate) fn prior(catalogue: &Catalogue, prior: &PatternPrior) -> Result<(), String> {
    let Some(anchor) = catalogue.movement(&prior.anchor) else {
        return Err(format!("anchor: {:?} is not known", prior.anchor));
    };
    let carry = &anchor.carry_over;
    if carry.pattern != prior.id || (carry.ratio - 1.0).abs() > 1e-9 || carry.log_sd != 0.0 {
        return Err("anchor: must carry over to itself with ratio 1 and log_sd 0".into());
    }
    if prior.share.iter().any(|s| !(0.01..=3.0).contains(s)) || prior.share.windows(2).any(|w| w[0] >= w[1]) {
        return Err("share: must rise within 0.01 to 3".into());
    }
    share("female", prior.female)
}

fn identifier(field: &str, value: &str) -> Result<(), String> {
    let legal = |c: char| c.is_ascii_lowercase() || c.is_ascii_digit() || c == '_';
    if value.is_empty() || !value.chars().all(legal) {
        return Err(format!("{field}: must be lower case with underscores"));
    }
    Ok(())
}

fn text(field: &str, value: &str) -> Result<(), String> {
    if value.trim().is_empty() {
        return Err(format!("{field}: is empty"));
    }
    if value.contains('!') {
        return Err(format!("{field}: no exclamation marks"));
    }
    Ok(())
}

fn share(field: &str, value: f64) -> Result<(), String> {
    if value > 0.0 && value <= 1.0 { Ok(()) } else { Err(format!("{field}: must be above 0 and at most 1")) }
}
