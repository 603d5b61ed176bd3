//! Rungs of movements loaded by the body itself: the set-ups that a room allows.

use super::bands::{self, BandUse};
use super::missing::{Missing, Piece};
use super::rung::Rung;
use super::supports::{self, BENCH_HEIGHT, DUMBBELL_HANDLES, HANDLE_HEIGHT, Resting};
use super::weights::{Held, dumbbells, packed};
use crate::anatomy::{Implement, Surface};
use crate::kit::KitItem;
use crate::mechanics::lever::HANG_SD;
use crate::mechanics::profile::{Profile, Thirds};
use crate::mechanics::ring_curl::RingCurl;
use crate::movement::{DipOn, ExtensionOn, Hands, Movement, PikeFeet, PushUpHands, RaisedFeet, RigModel, TrunkWork};
use crate::person::Person;
use crate::rigging::Setup;
use crate::rigging::{self, BodyLoad, body_load, body_load_along, handle_height, raised};
use crate::units::{Degrees, Metres};

/// Ring heights offered for push-ups, extensions and flies, m.
const RING_HEIGHTS: [f64; 6] = [0.10, 0.20, 0.35, 0.50, 0.65, 0.80];
/// Body angles offered for inverted rows, degrees.
const ROW_ANGLES: [f64; 11] = [75.0, 70.0, 65.0, 60.0, 55.0, 50.0, 45.0, 40.0, 30.0, 20.0, 10.0];
/// Body angles offered for rows at a towel or rear flies in rings, degrees: steeper ones cannot be held by the grip.
const STEEP_ANGLES: [f64; 7] = [75.0, 70.0, 65.0, 60.0, 55.0, 50.0, 45.0];
/// Body angles offered for ring curls, degrees.
const RING_CURL_ANGLES: [f64; 7] = [75.0, 70.0, 65.0, 60.0, 55.0, 50.0, 44.0];
/// Hand heights offered for extensions on a bar or on rings, m.
const EXTENSION_HEIGHTS: [f64; 6] = [1.1, 0.95, 0.80, 0.65, 0.50, 0.35];
/// Heaviest dumbbell to hold between the feet, kg.
pub(super) const HEAVIEST_HUNG: f64 = 40.0;
/// Lowest bar from which to hang with bent knees, m.
pub(super) const LOWEST_HANGING_BAR: f64 = 1.7;
/// Lowest rings for a dip, m.
const LOWEST_DIP_RINGS: f64 = 1.2;

pub(super) fn enumerate(
    movement: &Movement,
    person: &Person,
    kit: &[KitItem],
    resting: &Resting,
) -> Result<Vec<Rung>, Vec<Missing>> {
    let scene = Scene { movement, person, kit, resting, thirds: rigging::body_thirds(&movement.rig, person) };
    match movement.rig {
        RigModel::PushUp { hands, easier, feet, added, .. } => scene.push_ups(hands, easier, feet, added),
        RigModel::Pike { feet } => scene.pikes(feet),
        RigModel::InvertedRow => scene.inverted_rows(),
        RigModel::Dip { on, .. } => scene.dips(on),
        RigModel::ChinUp { .. } => scene.chin_ups(),
        RigModel::RingCurl { .. } => scene.ring_curls(),
        RigModel::BodyExtension { on } => scene.extensions(on),
        RigModel::BodyArc { .. } => scene.ring_arcs(),
        RigModel::Trunk { work } => scene.trunk(work),
        RigModel::Limb { .. } => Ok(scene.at(Setup::default(), 0).into_iter().collect()),
        RigModel::SingleJoint { .. } | RigModel::Line { .. } => Ok(Vec::new()),
    }
}

struct Scene<'a> {
    movement: &'a Movement,
    person: &'a Person,
    kit: &'a [KitItem],
    resting: &'a Resting,
    /// Of the arm's way, which no set-up changes.
    thirds: Thirds,
}

/// A constant resistance of one unit.
const LEVEL: Profile = Profile([1.0; 60]);

impl Scene<'_> {
    /// The rung of a set-up; none where the load model refuses it or hardly anything is left to lift.
    fn at(&self, setup: Setup, cost: u8) -> Option<Rung> {
        self.rung(&body_load_along(&self.movement.rig, self.person, &setup, &self.thirds).ok()?, setup, cost)
    }

    fn rung(&self, load: &BodyLoad, setup: Setup, cost: u8) -> Option<Rung> {
        let kilograms = load.kilograms();
        let thirds = load.profile.shares(&load.thirds)?;
        let least = if load.share.is_some() { 0.03 * self.person.body_mass_kg.value() } else { 0.1 };
        (kilograms.is_finite() && kilograms > least).then(|| Rung {
            peak: kilograms.max(load.profile.peak() / load.unit.peak()),
            cost: cost + self.resting.cost,
            thirds,
            log_sd: load.log_sd,
            setup: Setup { surface: setup.surface.or(self.resting.setup.surface), ..setup },
            profile: load.profile,
            ..Rung::bare(kilograms, cost, 0.0)
        })
    }

    fn on(surface: Surface) -> Setup {
        Setup { surface: Some(surface), ..Setup::default() }
    }

    fn rings(&self) -> Result<Metres, Vec<Missing>> {
        let height = self.kit.iter().find_map(|k| if let KitItem::Rings(r) = k { Some(r.max_height_m) } else { None });
        height.ok_or_else(|| vec![Missing::Piece(Piece::Rings)])
    }

    /// Heights of bars too low to hang from.
    fn low_bar(&self) -> Option<Metres> {
        self.kit.iter().find_map(|k| match k {
            KitItem::PullUpBar(b) if b.height_m.value() < LOWEST_HANGING_BAR => Some(b.height_m),
            _ => None,
        })
    }

    /// Weights that can hang from the body or be packed; lightest first of either kind.
    fn hung(&self) -> impl Iterator<Item = Held> {
        let held = dumbbells(self.kit, Hands::Shared).into_iter().filter(|w| w.kilograms() <= HEAVIEST_HUNG);
        held.chain(self.packed())
    }

    fn packed(&self) -> Vec<Held> {
        packed(self.kit)
    }

    fn push_ups(
        &self,
        hands: PushUpHands,
        easier: bool,
        feet: RaisedFeet,
        added: bool,
    ) -> Result<Vec<Rung>, Vec<Missing>> {
        let heights = supports::heights(self.kit);
        let knees = feet == RaisedFeet::Knees;
        let at = |hands: Metres, feet: Metres, knees: bool, surface: Surface, cost: u8| {
            let setup = Setup {
                hands_height_m: raised(hands),
                feet_height_m: raised(feet),
                knees: knees.then_some(true),
                ..Self::on(surface)
            };
            self.at(setup, cost)
        };
        let floor = Metres(0.0);
        let mut rungs = Vec::new();
        match hands {
            PushUpHands::Rings => {
                let highest = self.rings()?;
                let low = RING_HEIGHTS.into_iter().filter(|h| *h <= highest.value());
                return Ok(low.filter_map(|h| at(Metres(h), floor, knees, Surface::Rings, 1)).collect());
            }
            PushUpHands::Wall => rungs.extend(at(floor, floor, false, Surface::Standing, 0)),
            PushUpHands::Handles => {
                let on = self.resting.setup.surface.unwrap_or(Surface::Parallettes);
                let height = if on == Surface::Dumbbells { DUMBBELL_HANDLES } else { HANDLE_HEIGHT };
                rungs.extend(at(Metres(height), floor, knees, on, 1));
            }
            PushUpHands::Boxes => rungs.extend(self.two_boxes().and_then(|h| at(h, floor, knees, Surface::Box, 2))),
            PushUpHands::Floor if feet != RaisedFeet::Only => {
                rungs.extend(at(floor, floor, knees, Surface::Floor, 1));
            }
            PushUpHands::Floor | PushUpHands::Raised => {}
        }
        // Weight on a knee that hurts makes nothing easier.
        if easier && self.person.kneels() {
            rungs.extend(at(floor, floor, true, Surface::Floor, 1));
        }
        if easier || hands == PushUpHands::Raised {
            rungs.extend(heights.iter().filter_map(|(h, surface)| at(*h, floor, false, *surface, 1)));
        }
        if matches!(feet, RaisedFeet::Only | RaisedFeet::Also) {
            rungs.extend(heights.iter().filter_map(|(h, _)| at(floor, *h, false, Surface::Floor, 2)));
        }
        if rungs.is_empty() {
            return Err(vec![Missing::Piece(match hands {
                PushUpHands::Boxes => Piece::TwoAlike,
                _ if feet == RaisedFeet::Only => Piece::EdgeForFeet,
                _ => Piece::EdgeForHands,
            })]);
        }
        if added && let Some(top) = rungs.iter().copied().max_by(|a, b| a.load.total_cmp(&b.load)) {
            rungs.extend(self.loaded_push_ups(&top));
        }
        Ok(rungs)
    }

    fn two_boxes(&self) -> Option<Metres> {
        self.kit.iter().find_map(|k| match k {
            KitItem::Box(b) if b.count >= 2 => Some(b.height_m),
            KitItem::Bench(b) if b.count.is_some_and(|n| n >= 2) => Some(b.height_m.unwrap_or(Metres(BENCH_HEIGHT))),
            _ => None,
        })
    }

    /// A rung with more resistance of the same kind on top.
    fn more(&self, base: &Rung, extra: &Profile, cost: u8, log_sd: f64) -> Option<Rung> {
        let load = body_load_along(&self.movement.rig, self.person, &base.setup, &self.thirds).ok()?;
        let load = BodyLoad { profile: base.profile.plus(extra), log_sd, ..load };
        self.rung(&load, base.setup, base.cost.saturating_sub(self.resting.cost) + cost)
    }

    /// The hardest lever with a backpack, or with a loop round the back to both hands.
    fn loaded_push_ups(&self, base: &Rung) -> Vec<Rung> {
        let Ok(load) = body_load_along(&self.movement.rig, self.person, &base.setup, &self.thirds) else {
            return Vec::new();
        };
        let mut rungs: Vec<Rung> = self
            .packed()
            .into_iter()
            .filter_map(|weight| {
                let extra = rigging::added_weight(&self.movement.rig, self.person, &load, weight.load.kilograms());
                let rung = self.more(base, &extra, 1, base.log_sd)?;
                Some(Rung { weight: Some(weight), ..rung })
            })
            .collect();
        for (item, band) in bands::loops(self.kit) {
            let Some(Ok(both)) = rigging::added_band(&self.movement.rig, self.person, &band, false) else { continue };
            let band_share = both.work() / base.profile.plus(&both).work();
            let log_sd = base.log_sd.hypot(band_share * band.rubber.log_sd());
            rungs.extend(self.more(base, &both, 2, log_sd).map(|rung| Rung {
                band_share,
                bands: [Some(BandUse::new(item)), None],
                ..rung
            }));
        }
        rungs
    }

    fn pikes(&self, feet: PikeFeet) -> Result<Vec<Rung>, Vec<Missing>> {
        if feet != PikeFeet::Raised {
            return Ok(self.at(Self::on(Surface::Floor), 1).into_iter().collect());
        }
        let raised = |h: Metres| Setup { feet_height_m: Some(h), ..Self::on(Surface::Floor) };
        let rungs: Vec<_> =
            supports::heights(self.kit).into_iter().filter_map(|(h, _)| self.at(raised(h), 2)).collect();
        if rungs.is_empty() {
            return Err(vec![Missing::Piece(Piece::EdgeForFeet)]);
        }
        Ok(rungs)
    }

    fn inverted_rows(&self) -> Result<Vec<Rung>, Vec<Missing>> {
        let handle = |angle: f64| handle_height(self.person.height_m, Degrees(angle)).value();
        if self.movement.uses(Implement::Towel) {
            return Ok(STEEP_ANGLES.into_iter().filter_map(|a| self.inverted_row(a, 1.0, Surface::Standing)).collect());
        }
        let fixed = |height: Metres, surface: Surface| {
            let off = |angle: &f64| (handle(*angle) - height.value()).abs();
            let angle = (0..=70).map(f64::from).min_by(|a, b| off(a).total_cmp(&off(b)));
            angle.and_then(|a| self.inverted_row(a, height.value(), surface))
        };
        let mut rungs = Vec::new();
        if self.resting.setup.surface == Some(Surface::Table)
            && let Some(height) = supports::table_height(self.kit)
        {
            rungs.extend(fixed(height, Surface::Table));
        }
        if self.movement.uses(Implement::Bar)
            && let Some(height) = self.low_bar().filter(|h| h.value() <= handle(70.0))
        {
            rungs.extend(fixed(height, Surface::Bar));
        }
        if self.movement.uses(Implement::Rings)
            && let Ok(highest) = self.rings()
        {
            let angles = ROW_ANGLES.into_iter().filter(|a| handle(*a) <= highest.value());
            rungs.extend(angles.filter_map(|a| self.inverted_row(a, handle(a), Surface::Rings)));
        }
        if rungs.is_empty() {
            return Err(vec![Missing::Piece(Piece::RingsOrLowBar)]);
        }
        Ok(rungs)
    }

    fn inverted_row(&self, angle: f64, height: f64, surface: Surface) -> Option<Rung> {
        let setup = Setup {
            body_angle_deg: Some(Degrees(angle)),
            hands_height_m: Some(Metres((height * 20.0).round() / 20.0)),
            ..Self::on(surface)
        };
        self.at(setup, 1)
    }

    /// The body's own weight, and with what can hang from it or be packed.
    fn hung_rungs(&self, setup: Setup) -> Vec<Rung> {
        let Some(own) = self.at(setup, 1) else { return Vec::new() };
        let mut rungs = vec![own];
        rungs.extend(self.hung().filter_map(|weight| {
            let rung = self.more(&own, &LEVEL.times(weight.load.kilograms().weight().value()), 1, own.log_sd)?;
            Some(Rung { weight: Some(weight), ..rung })
        }));
        rungs
    }

    fn dips(&self, on: DipOn) -> Result<Vec<Rung>, Vec<Missing>> {
        match on {
            DipOn::Bars if !self.kit.iter().any(|k| matches!(k, KitItem::DipBars(_))) => {
                Err(vec![Missing::Piece(Piece::DipBars)])
            }
            DipOn::Bars => Ok(self.helped(self.hung_rungs(Self::on(Surface::Bar)), Self::on(Surface::Bar))),
            DipOn::Rings if self.rings()?.value() < LOWEST_DIP_RINGS => Err(vec![Missing::Piece(Piece::RingsAtChest)]),
            DipOn::Rings => Ok(self.helped(self.hung_rungs(Self::on(Surface::Rings)), Self::on(Surface::Rings))),
            DipOn::Floor => Ok(self.at(Self::on(Surface::Floor), 1).into_iter().collect()),
            DipOn::Edge | DipOn::EdgeFeetRaised => {
                let mut rungs = Vec::new();
                if on == DipOn::Edge {
                    rungs.extend(self.at(Setup { knees: Some(true), ..Setup::default() }, 1));
                }
                rungs.extend(self.at(Setup::default(), 1));
                Ok(rungs)
            }
        }
    }

    fn chin_ups(&self) -> Result<Vec<Rung>, Vec<Missing>> {
        let movement = self.movement;
        let bar =
            self.kit.iter().any(|k| matches!(k, KitItem::PullUpBar(b) if b.height_m.value() >= LOWEST_HANGING_BAR));
        let on_bar = movement.uses(Implement::Bar) && bar;
        let on_rings = movement.uses(Implement::Rings) && self.rings().is_ok_and(|h| h.value() >= LOWEST_HANGING_BAR);
        let setup = Self::on(match (on_bar, on_rings) {
            (true, _) => Surface::Bar,
            (_, true) => Surface::Rings,
            _ if movement.uses(Implement::Bar) => return Err(vec![Missing::Piece(Piece::BarToHang)]),
            _ => return Err(vec![Missing::Piece(Piece::RingsToHang)]),
        });
        Ok(self.helped(self.hung_rungs(setup), setup))
    }

    /// The same with each loop band helping from above: help is largest at the bottom.
    fn helped(&self, mut rungs: Vec<Rung>, setup: Setup) -> Vec<Rung> {
        let Ok(own) = body_load_along(&self.movement.rig, self.person, &setup, &self.thirds) else { return rungs };
        for (item, band) in bands::loops(self.kit) {
            for foot in [false, true] {
                let help = rigging::added_band(&self.movement.rig, self.person, &band, foot);
                let Some(Ok(help)) = help else { continue };
                let load = BodyLoad { profile: own.profile.plus(&help), log_sd: HANG_SD.hypot(0.05), ..own };
                let setup = Setup { foot_in_loop: foot.then_some(true), ..setup };
                rungs.extend(self.rung(&load, setup, 2).map(|rung| Rung {
                    bands: [Some(BandUse::new(item)), None],
                    helped: true,
                    ..rung
                }));
            }
        }
        rungs
    }

    fn ring_curls(&self) -> Result<Vec<Rung>, Vec<Missing>> {
        // Straps hang from about a hand's breadth above the highest ring position.
        let anchor = Metres(self.rings()?.value() + 0.2);
        let rungs = RING_CURL_ANGLES.into_iter().filter_map(|angle| {
            let posture = RingCurl {
                stature: self.person.height_m,
                body_mass: self.person.body_mass_kg,
                start_angle: Degrees(angle),
                strap: Metres(1.0),
            };
            let strap = posture.hung_from(anchor).strap.value();
            if !(0.3..=3.5).contains(&strap) {
                return None;
            }
            let setup = Setup {
                body_angle_deg: Some(Degrees(angle)),
                strap_m: Some(Metres((strap * 20.0).round() / 20.0)),
                ..Self::on(Surface::Rings)
            };
            self.at(setup, 1)
        });
        Ok(rungs.collect())
    }

    fn extensions(&self, on: ExtensionOn) -> Result<Vec<Rung>, Vec<Missing>> {
        let at = |h: Metres, surface: Surface| self.at(Setup { hands_height_m: Some(h), ..Self::on(surface) }, 1);
        let rungs: Vec<Rung> = match on {
            ExtensionOn::Floor => at(Metres(0.0), Surface::Floor).into_iter().collect(),
            ExtensionOn::Surface => {
                supports::heights(self.kit).into_iter().filter_map(|(h, surface)| at(h, surface)).collect()
            }
            ExtensionOn::Bar => self.low_bar().and_then(|h| at(h, Surface::Bar)).into_iter().collect(),
            ExtensionOn::Rings => {
                let highest = self.rings()?;
                let heights = EXTENSION_HEIGHTS.into_iter().filter(|h| *h <= highest.value());
                heights.filter_map(|h| at(Metres(h), Surface::Rings)).collect()
            }
        };
        if rungs.is_empty() {
            return Err(vec![Missing::Piece(match on {
                ExtensionOn::Bar => Piece::LowBar,
                _ => Piece::EdgeForHands,
            })]);
        }
        Ok(rungs)
    }

    fn ring_arcs(&self) -> Result<Vec<Rung>, Vec<Missing>> {
        let highest = self.rings()?;
        let leaning =
            matches!(self.movement.rig, RigModel::BodyArc { action: crate::mechanics::single_joint::JointAction::Fly });
        let setups: Vec<Setup> = if leaning {
            let heights = EXTENSION_HEIGHTS.into_iter().chain([0.20]).filter(|h| *h <= highest.value());
            heights.map(|h| Setup { hands_height_m: Some(Metres(h)), ..Self::on(Surface::Rings) }).collect()
        } else {
            let height = |a: f64| handle_height(self.person.height_m, Degrees(a)).value();
            let angles = STEEP_ANGLES.into_iter().filter(|a| height(*a) <= highest.value());
            angles.map(|a| Setup { body_angle_deg: Some(Degrees(a)), ..Self::on(Surface::Rings) }).collect()
        };
        Ok(setups.into_iter().filter_map(|s| self.at(s, 1)).collect())
    }

    /// Knees or legs raised under a bar or rings that are high enough.
    fn hanging_raises(&self) -> Result<Vec<Rung>, Vec<Missing>> {
        let high = |h: Metres| h.value() >= LOWEST_HANGING_BAR;
        let bar = self.kit.iter().any(|k| matches!(k, KitItem::PullUpBar(b) if high(b.height_m)));
        let surface = match (bar, self.rings().is_ok_and(high)) {
            (true, _) => Surface::Bar,
            (_, true) => Surface::Rings,
            _ => return Err(vec![Missing::Piece(Piece::BarOrRingsToHang)]),
        };
        Ok(self.at(Self::on(surface), 1).into_iter().collect())
    }

    fn trunk(&self, work: TrunkWork) -> Result<Vec<Rung>, Vec<Missing>> {
        if matches!(work, TrunkWork::RingsKnees | TrunkWork::RingsToes) {
            self.rings()?;
        }
        if work.hangs() {
            return self.hanging_raises();
        }
        let surface =
            if matches!(work, TrunkWork::RingsKnees | TrunkWork::RingsToes) { Surface::Rings } else { Surface::Floor };
        let Some(own) = self.at(Self::on(surface), 1) else { return Ok(Vec::new()) };
        let mut rungs = vec![own];
        if matches!(work, TrunkWork::Plank | TrunkWork::SidePlank) {
            let raised = supports::heights(self.kit).into_iter();
            rungs.extend(raised.filter_map(|(h, _)| self.at(Setup { feet_height_m: Some(h), ..Self::on(surface) }, 2)));
        }
        if matches!(work, TrunkWork::Plank | TrunkWork::LongPlank) {
            let load = body_load(&self.movement.rig, self.person, &own.setup);
            rungs.extend(self.packed().into_iter().filter_map(|weight| {
                let base = load.as_ref().ok()?;
                let extra = rigging::added_weight(&self.movement.rig, self.person, base, weight.load.kilograms());
                let rung = self.more(&own, &extra, 1, own.log_sd)?;
                Some(Rung { weight: Some(weight), ..rung })
            }));
        }
        Ok(rungs)
    }
}
