//! Rungs of movements loaded by the body itself.

use super::Setup;
use super::bands::{self, BandUse};
use super::rungs::{Missing, Rung, weights};
use super::supports::{self, HANDLE_HEIGHT, Resting};
use crate::anatomy::{Implement, Surface};
use crate::dose::{PerHand, StampedLoad};
use crate::kit::KitItem;
use crate::mechanics::band::hooked;
use crate::mechanics::lever::{self, HANG_SD, PUSH_UP_SHARE, PushUp, RING_PUSH_UP_SD, Support};
use crate::mechanics::path::{AnchoredPath, BandUnderBack, Trapped};
use crate::mechanics::profile::{Profile, Thirds};
use crate::mechanics::ring_curl::RingCurl;
use crate::mechanics::single_joint::{JointAction, SingleJoint};
use crate::movement::{Hands, Movement, PushUpHands, RaisedFeet, RigModel};
use crate::person::Person;
use crate::units::{Degrees, GRAVITY, Kilograms, MassUnit, Metres};

/// Ring heights offered for push-ups, m.
const RING_HEIGHTS: [f64; 6] = [0.10, 0.20, 0.35, 0.50, 0.65, 0.80];
/// Body angles offered for inverted rows, degrees.
const ROW_ANGLES: [f64; 7] = [70.0, 60.0, 50.0, 40.0, 30.0, 20.0, 10.0];
/// Body angles offered for ring curls, degrees.
const RING_CURL_ANGLES: [f64; 5] = [75.0, 68.0, 60.0, 52.0, 44.0];
/// Shoulder to hand with straight arms over stature.
const ARM: f64 = 0.357;
/// Increments of a loaded backpack, kg.
const BACKPACK_STEP: f64 = 2.5;
/// Heaviest dumbbell to hold between the feet, kg.
const HEAVIEST_HUNG: f64 = 40.0;
/// Lowest bar from which to hang with bent knees, m.
const LOWEST_HANGING_BAR: f64 = 1.7;
/// Log-SD of a ring curl: posture and straps vary.
const RING_CURL_SD: f64 = 0.15;

/// Whether the body itself is the load.
pub(crate) const fn is_lever(rig: &RigModel) -> bool {
    !matches!(rig, RigModel::SingleJoint { .. } | RigModel::Line { .. })
}

pub(super) fn enumerate(
    movement: &Movement,
    person: &Person,
    kit: &[KitItem],
    resting: &Resting,
) -> Result<Vec<Rung>, Vec<Missing>> {
    let scene = Scene { person, kit, resting };
    match movement.rig {
        RigModel::PushUp { hands, easier, feet, added } => scene.push_ups(hands, easier, feet, added),
        RigModel::InvertedRow => scene.inverted_rows(movement),
        RigModel::Dip => scene.dips(),
        RigModel::ChinUp => scene.chin_ups(movement),
        RigModel::RingCurl => scene.ring_curls(),
        RigModel::SingleJoint { .. } | RigModel::Line { .. } => Ok(Vec::new()),
    }
}

struct Scene<'a> {
    person: &'a Person,
    kit: &'a [KitItem],
    resting: &'a Resting,
}

/// A constant resistance of one unit.
const LEVEL: Profile = Profile([1.0; 60]);

impl Scene<'_> {
    fn rung(&self, profile: &Profile, cost: u8, log_sd: f64, setup: Setup) -> Option<Rung> {
        let load = profile.work() / GRAVITY;
        let thirds = profile.shares(&Thirds::of_path())?;
        (load > 0.03 * self.person.body_mass_kg.value()).then(|| Rung {
            peak: profile.peak() / GRAVITY,
            cost: cost + self.resting.cost,
            thirds,
            log_sd,
            setup: Setup { surface: setup.surface.or(self.resting.setup.surface), ..setup },
            profile: *profile,
            ..Rung::bare(load, cost, 0.0)
        })
    }

    fn rings(&self) -> Result<Metres, Vec<Missing>> {
        let height = self.kit.iter().find_map(|k| if let KitItem::Rings(r) = k { Some(r.max_height_m) } else { None });
        height.ok_or_else(|| vec![Missing::kit("needs rings")])
    }

    /// Weights that can hang from the body, and whether they are packed; lightest first of either kind.
    fn hung(&self) -> impl Iterator<Item = (StampedLoad, bool)> {
        let held = weights(self.kit, Hands::Shared).into_iter().filter(|w| w.kilograms().value() <= HEAVIEST_HUNG);
        held.map(|w| (w, false)).chain(self.packed().into_iter().map(|w| (w, true)))
    }

    fn packed(&self) -> Vec<StampedLoad> {
        let most =
            self.kit.iter().find_map(|k| if let KitItem::Backpack(b) = k { Some(b.max_kg.value()) } else { None });
        let count = most.map_or(0, |kg| (kg / BACKPACK_STEP).floor().min(40.0) as usize);
        (1..=count)
            .map(|k| StampedLoad { value: BACKPACK_STEP * k as f64, unit: MassUnit::Kg, per: PerHand::Total })
            .collect()
    }

    fn push_ups(
        &self,
        hands: PushUpHands,
        easier: bool,
        feet: RaisedFeet,
        added: bool,
    ) -> Result<Vec<Rung>, Vec<Missing>> {
        let heights = supports::heights(self.kit);
        let mut rungs = Vec::new();
        match hands {
            PushUpHands::Rings => {
                let highest = self.rings()?;
                for h in RING_HEIGHTS.into_iter().filter(|h| *h <= highest.value()) {
                    rungs.extend(self.push_up(Support::Toes, Metres(h), Metres(0.0), Surface::Rings, 1));
                }
                return Ok(rungs);
            }
            PushUpHands::Handles => {
                rungs.extend(self.push_up(Support::Toes, Metres(HANDLE_HEIGHT), Metres(0.0), Surface::Parallettes, 1));
            }
            PushUpHands::Floor if feet != RaisedFeet::Only => {
                rungs.extend(self.push_up(Support::Toes, Metres(0.0), Metres(0.0), Surface::Floor, 1));
            }
            PushUpHands::Floor => {}
        }
        if easier {
            rungs.extend(self.push_up(Support::Knees, Metres(0.0), Metres(0.0), Surface::Floor, 1));
            for (h, surface) in &heights {
                rungs.extend(self.push_up(Support::Toes, *h, Metres(0.0), *surface, 1));
            }
        }
        if feet != RaisedFeet::None {
            for (h, _) in heights.iter().filter(|(h, _)| h.value() <= 0.61) {
                rungs.extend(self.push_up(Support::Toes, Metres(0.0), *h, Surface::Floor, 2));
            }
        }
        if feet == RaisedFeet::Only && rungs.is_empty() {
            return Err(vec![Missing::kit("needs a box, step, bench, chair or sofa for the feet")]);
        }
        if added && let Some(top) = rungs.iter().copied().max_by(|a, b| a.load.total_cmp(&b.load)) {
            rungs.extend(self.loaded_push_ups(&top));
        }
        Ok(rungs)
    }

    fn push_up(&self, support: Support, hands: Metres, feet: Metres, surface: Surface, cost: u8) -> Option<Rung> {
        let posture = PushUp { support, hands, feet };
        let load = posture.load(self.person.height_m, PUSH_UP_SHARE).ok()?;
        let ratio = posture.bottom_over_top();
        let mean = load.fraction * self.person.body_mass_kg.weight().value();
        let (bottom, top) = (2.0 * ratio / (1.0 + ratio), 2.0 / (1.0 + ratio));
        let profile = Profile::sample(|s| mean * (bottom + (top - bottom) * s));
        let log_sd = if surface == Surface::Rings { load.log_sd.max(RING_PUSH_UP_SD) } else { load.log_sd };
        let raised = |h: Metres| (h.value() > 0.0).then_some(h);
        let setup = Setup {
            surface: Some(surface),
            hands_height_m: raised(hands),
            feet_height_m: raised(feet),
            knees: (support == Support::Knees).then_some(true),
            ..Setup::default()
        };
        self.rung(&profile, cost, log_sd, setup)
    }

    /// The hardest lever with a backpack, or with a loop round the back to both hands.
    fn loaded_push_ups(&self, base: &Rung) -> Vec<Rung> {
        let share = base.load / self.person.body_mass_kg.value();
        let mut rungs: Vec<Rung> = self
            .packed()
            .into_iter()
            .filter_map(|weight| {
                let extra = LEVEL.times(share * weight.kilograms().weight().value());
                let rung = self.rung(&base.profile.plus(&extra), base.cost + 1, base.log_sd, base.setup)?;
                Some(Rung { weight: Some(weight), packed: true, ..rung })
            })
            .collect();
        let scale = self.person.height_m.value() / 1.75;
        for (item, rubber, flat) in bands::loops(self.kit) {
            let band = BandUnderBack {
                rubber,
                flat,
                trapped_width: Metres(0.42 * scale),
                exit: Metres(0.0),
                hand: Metres(0.0),
                trapped: Trapped::Pinned,
            };
            let Ok(one_hand) = band.profile(Metres(0.25 * scale), Metres(0.62 * scale)) else { continue };
            let profile = base.profile.plus(&one_hand.times(2.0));
            let band_share = 2.0 * one_hand.work() / profile.work();
            let log_sd = base.log_sd.hypot(band_share * rubber.log_sd());
            rungs.extend(self.rung(&profile, base.cost + 2, log_sd, base.setup).map(|rung| Rung {
                band_share,
                bands: [Some(BandUse::new(item)), None],
                ..rung
            }));
        }
        rungs
    }

    fn inverted_rows(&self, movement: &Movement) -> Result<Vec<Rung>, Vec<Missing>> {
        let stature = self.person.height_m.value();
        let handle = |angle: f64| {
            let b = angle.to_radians();
            lever_height(stature, b)
        };
        let low_bar = self.kit.iter().find_map(|k| match k {
            KitItem::PullUpBar(b) if b.height_m.value() <= handle(70.0) => Some(b.height_m.value()),
            _ => None,
        });
        if movement.uses(Implement::Bar)
            && let Some(height) = low_bar
        {
            let angle = (0..=70)
                .map(f64::from)
                .min_by(|a, b| (handle(*a) - height).abs().total_cmp(&(handle(*b) - height).abs()));
            return Ok(angle.and_then(|a| self.inverted_row(a, height, Surface::Bar)).into_iter().collect());
        }
        let highest = self.rings().map_err(|_| vec![Missing::kit("needs rings or a bar at hip height")])?;
        let angles = ROW_ANGLES.into_iter().filter(|a| handle(*a) <= highest.value());
        Ok(angles.filter_map(|a| self.inverted_row(a, handle(a), Surface::Rings)).collect())
    }

    fn inverted_row(&self, angle: f64, height: f64, surface: Surface) -> Option<Rung> {
        let load = lever::inverted_row(Degrees(angle), Degrees(90.0)).ok()?;
        let setup = Setup {
            surface: Some(surface),
            body_angle_deg: Some(Degrees(angle)),
            hands_height_m: Some(Metres((height * 20.0).round() / 20.0)),
            ..Setup::default()
        };
        let force = load.fraction * self.person.body_mass_kg.weight().value();
        self.rung(&LEVEL.times(force), 1, load.log_sd, setup)
    }

    fn hanging(&self, added: Option<StampedLoad>) -> Profile {
        let extra = added.map_or(Kilograms(0.0), |w| w.kilograms());
        LEVEL.times(lever::hanging_load(self.person.body_mass_kg, self.person.sex, extra).weight().value())
    }

    fn hung_rungs(&self, surface: Surface) -> Vec<Rung> {
        let setup = Setup { surface: Some(surface), ..Setup::default() };
        let mut rungs: Vec<Rung> = self.rung(&self.hanging(None), 1, HANG_SD, setup).into_iter().collect();
        rungs.extend(self.hung().filter_map(|(weight, packed)| {
            let rung = self.rung(&self.hanging(Some(weight)), 2, HANG_SD, setup)?;
            Some(Rung { weight: Some(weight), packed, ..rung })
        }));
        rungs
    }

    fn dips(&self) -> Result<Vec<Rung>, Vec<Missing>> {
        if !self.kit.iter().any(|k| matches!(k, KitItem::DipBars(_))) {
            return Err(vec![Missing::kit("needs dip bars")]);
        }
        Ok(self.hung_rungs(Surface::Bar))
    }

    fn chin_ups(&self, movement: &Movement) -> Result<Vec<Rung>, Vec<Missing>> {
        let bar =
            self.kit.iter().any(|k| matches!(k, KitItem::PullUpBar(b) if b.height_m.value() >= LOWEST_HANGING_BAR));
        let on_bar = movement.uses(Implement::Bar) && bar;
        let on_rings = movement.uses(Implement::Rings) && self.rings().is_ok_and(|h| h.value() >= LOWEST_HANGING_BAR);
        let surface = match (on_bar, on_rings) {
            (true, _) => Surface::Bar,
            (_, true) => Surface::Rings,
            _ if movement.uses(Implement::Bar) => return Err(vec![Missing::kit("needs a bar to hang from")]),
            _ => return Err(vec![Missing::kit("needs rings to hang from")]),
        };
        let mut rungs = self.hung_rungs(surface);
        let scale = self.person.height_m.value() / 1.75;
        for (item, rubber, flat) in bands::loops(self.kit) {
            let free = hooked(flat, Metres(0.0045), Metres(0.03), Metres(0.03));
            let help = AnchoredPath {
                rubber,
                strands: 2.0,
                free,
                anchor: [0.0, 0.0],
                start: [0.0, -1.5 * scale],
                end: [0.0, -scale],
            };
            let Ok(helped) = help.profile() else { continue };
            let setup = Setup { surface: Some(surface), ..Setup::default() };
            rungs.extend(
                self.rung(&self.hanging(None).plus(&helped), 2, HANG_SD.hypot(0.05), setup)
                    .map(|rung| Rung { bands: [Some(BandUse::new(item)), None], ..rung }),
            );
        }
        Ok(rungs)
    }

    fn ring_curls(&self) -> Result<Vec<Rung>, Vec<Missing>> {
        // Straps hang from about a hand's breadth above the highest ring position.
        let anchor = Metres(self.rings()?.value() + 0.2);
        let stature = self.person.height_m;
        let curl = SingleJoint::new(JointAction::Curl, Degrees(0.0), Degrees(0.0), stature, false);
        let unit = curl.kilogram_profile();
        let rungs = RING_CURL_ANGLES.into_iter().filter_map(|angle| {
            let posture = RingCurl {
                stature,
                body_mass: self.person.body_mass_kg,
                start_angle: Degrees(angle),
                strap: Metres(1.0),
            }
            .hung_from(anchor);
            if !(0.3..=3.5).contains(&posture.strap.value()) {
                return None;
            }
            let one_arm = posture.profile().ok()?.times(0.5);
            let setup = Setup {
                surface: Some(Surface::Rings),
                body_angle_deg: Some(Degrees(angle)),
                strap_m: Some(Metres((posture.strap.value() * 20.0).round() / 20.0)),
                ..Setup::default()
            };
            let load = one_arm.work() / unit.work();
            Some(Rung {
                peak: load.max(one_arm.peak() / unit.peak()),
                thirds: one_arm.shares(&curl.thirds())?,
                log_sd: RING_CURL_SD,
                setup,
                profile: one_arm,
                ..Rung::bare(load, 1, 0.0)
            })
        });
        Ok(rungs.collect())
    }
}

/// Height of the handles of an inverted row with straight arms, m.
fn lever_height(stature: f64, body: f64) -> f64 {
    stature * (0.82 * body.sin() + ARM * body.cos())
}
