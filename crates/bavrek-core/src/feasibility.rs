//! Feasibility: which regions a room can train directly, which only by assisting work, which not at all, and which
//! single cheap thing would open most.

use std::collections::BTreeMap;

use crate::aims::{Aim, Aims};
use crate::anatomy::{Region, vocabulary};
use crate::fit::ruled_out;
use crate::kit::offer::CheapItem;
use crate::kit::{KitItem, Setting};
use crate::movement::{Catalogue, Movement};
use crate::person::Person;

vocabulary!(
    /// How far a region can be trained.
    Reach {
        Direct => "direct", "directly";
        Assisting => "assisting", "only by assisting work";
        None => "none", "not at all";
    }
);

/// What can be done for one region.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct RegionReach {
    /// Movements that train it directly here.
    pub direct: usize,
    /// Movements that only assist here.
    pub assisting: usize,
    /// Movements that would train it directly here but for a limit or too little experience.
    pub held_back: usize,
}

impl RegionReach {
    /// How far it can be trained.
    pub const fn reach(self) -> Reach {
        match self {
            Self { direct: 1.., .. } => Reach::Direct,
            Self { assisting: 1.., .. } => Reach::Assisting,
            _ => Reach::None,
        }
    }
}

/// What one cheap thing would open.
#[derive(Debug, Clone, PartialEq)]
pub struct Opening<'a> {
    /// The thing.
    pub item: &'a CheapItem,
    /// Regions that it lets one train directly for the first time, those with the higher aims first.
    pub regions: Vec<Region>,
    /// Movements that it makes possible for regions that are to grow or are in focus.
    pub movements: usize,
}

/// What can be trained in a room.
#[derive(Debug, Clone, PartialEq)]
pub struct Feasibility<'a> {
    /// By region.
    pub regions: BTreeMap<Region, RegionReach>,
    /// The cheap thing that opens most; none where nothing opens anything.
    pub opening: Option<Opening<'a>>,
}

impl<'a> Feasibility<'a> {
    /// Works it out for a person in a room; only what suits the place is advised.
    pub fn of(
        catalogue: &Catalogue,
        person: &Person,
        (kit, setting): (&[KitItem], Option<Setting>),
        aims: &Aims,
        cheap: &'a [CheapItem],
    ) -> Self {
        let unlimited = Person { limits: Vec::new(), ..person.clone() };
        let mut regions: BTreeMap<Region, RegionReach> =
            Region::ALL.iter().map(|r| (*r, RegionReach::default())).collect();
        let mut closed: Vec<&Movement> = Vec::new();
        for movement in &catalogue.movements {
            let why = ruled_out(movement, person, kit);
            if why.is_empty() {
                for region in trained(movement) {
                    regions.entry(region).or_default().direct += 1;
                }
                for region in movement.assisting.keys() {
                    regions.entry(*region).or_default().assisting += 1;
                }
            } else if ruled_out(movement, &unlimited, kit).is_empty() {
                for region in trained(movement) {
                    regions.entry(region).or_default().held_back += 1;
                }
            } else {
                closed.push(movement);
            }
        }
        let cheap = cheap.iter().filter(|item| item.suits(setting, kit));
        let opening = best_opening(person, kit, aims, cheap, &regions, &closed);
        Self { regions, opening }
    }

    /// How far a region can be trained.
    pub fn reach(&self, region: Region) -> Reach {
        self.regions.get(&region).map_or(Reach::None, |r| r.reach())
    }
}

fn trained(movement: &Movement) -> impl Iterator<Item = Region> + '_ {
    movement.direct.keys().copied().filter(|region| movement.trains_directly(*region))
}

fn best_opening<'a>(
    person: &Person,
    kit: &[KitItem],
    aims: &Aims,
    cheap: impl Iterator<Item = &'a CheapItem>,
    regions: &BTreeMap<Region, RegionReach>,
    closed: &[&Movement],
) -> Option<Opening<'a>> {
    let worth = |region: Region| match aims.of(region).aim {
        Aim::Keep => 1,
        Aim::Grow => 2,
        Aim::Focus => 3,
    };
    let mut best: Option<(usize, Opening<'a>)> = None;
    for item in cheap {
        let room: Vec<KitItem> = kit.iter().chain(&item.kit).cloned().collect();
        let mut opened: Vec<Region> = Vec::new();
        let mut movements = 0;
        for movement in closed.iter().filter(|m| ruled_out(m, person, &room).is_empty()) {
            movements += usize::from(trained(movement).any(|r| worth(r) > 1));
            opened.extend(trained(movement).filter(|r| regions[r].direct == 0));
        }
        opened.sort_by_key(|r| (std::cmp::Reverse(worth(*r)), *r));
        opened.dedup();
        // A region first, however many movements something else would add.
        let value = opened.iter().map(|r| worth(*r)).sum::<usize>() * 1000 + movements;
        if value > best.as_ref().map_or(0, |(most, _)| *most) {
            best = Some((value, Opening { item, regions: opened, movements }));
        }
    }
    best.map(|(_, opening)| opening)
}
