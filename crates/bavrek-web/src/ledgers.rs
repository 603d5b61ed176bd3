//! Logs that were replayed before: several parts of a page ask what a log says of strength, and the next page again. What is kept is
//! held against the very log, person, day and catalogue that it came from. Nothing depends on what is kept here; any number of
//! processes may each keep their own.

use std::num::NonZeroUsize;
use std::sync::{Arc, Mutex, MutexGuard, PoisonError, Weak};

use bavrek_core::movement::Catalogue;
use bavrek_core::person::Person;
use bavrek_core::strength::{Ledger, Replayed};
use bavrek_store::logs::ClientLog;
use chrono::NaiveDate;
use lru::LruCache;

use crate::state::App;

/// Most logs whose replay is kept: the state of each is some 30 kB.
const MOST: NonZeroUsize = NonZeroUsize::new(60).unwrap();
/// Most sets of which a replay is kept, of all logs together: some 150 bytes each. With the states about 6 MB.
const MOST_SETS: usize = 30_000;
/// Persons of one client: as limits have it, and with what hurts spared as well.
const PERSONS: usize = 2;

/// A replay with all that it came from. The log is not kept alive by it.
#[derive(Debug)]
struct Kept {
    log: Weak<ClientLog>,
    sets: usize,
    person: Person,
    today: NaiveDate,
    catalogue: Arc<Catalogue>,
    replayed: Arc<Replayed>,
}

impl Kept {
    fn is_of(&self, catalogue: &Arc<Catalogue>, log: &Arc<ClientLog>, person: &Person, today: NaiveDate) -> bool {
        // Where a log was, none other can come to lie while something knows of it.
        self.log.as_ptr() == Arc::as_ptr(log)
            && Arc::ptr_eq(&self.catalogue, catalogue)
            && self.today == today
            && self.person == *person
    }
}

/// Replays by the address of their log, those asked for last.
#[derive(Debug)]
pub struct Ledgers {
    kept: Mutex<LruCache<usize, Vec<Kept>>>,
}

impl Default for Ledgers {
    fn default() -> Self {
        Self { kept: Mutex::new(LruCache::new(MOST)) }
    }
}

impl App {
    /// What a log says of a person's strength on a day: what [`Ledger::replay`] of it gives.
    pub(crate) fn ledger(&self, log: &Arc<ClientLog>, person: &Person, today: NaiveDate) -> Ledger<'_> {
        let kept = self.ledgers.known(&self.catalogue, log, person, today);
        if let Some(replayed) = kept {
            return Ledger::kept(&self.catalogue, replayed);
        }
        // Replayed without holding the others up.
        let ledger = Ledger::replay(&self.catalogue, person, &log.sets, Some(today));
        self.ledgers.keep(Kept {
            log: Arc::downgrade(log),
            sets: log.sets.len(),
            person: person.clone(),
            today,
            catalogue: self.catalogue.clone(),
            replayed: ledger.keep(),
        });
        ledger
    }
}

impl Ledgers {
    fn held(&self) -> MutexGuard<'_, LruCache<usize, Vec<Kept>>> {
        self.kept.lock().unwrap_or_else(PoisonError::into_inner)
    }

    fn known(
        &self,
        catalogue: &Arc<Catalogue>,
        log: &Arc<ClientLog>,
        person: &Person,
        today: NaiveDate,
    ) -> Option<Arc<Replayed>> {
        let mut held = self.held();
        let persons = held.get(&address(log))?;
        persons.iter().find(|kept| kept.is_of(catalogue, log, person, today)).map(|kept| kept.replayed.clone())
    }

    fn keep(&self, new: Kept) {
        let mut held = self.held();
        let persons = held.get_or_insert_mut(new.log.as_ptr() as usize, Vec::new);
        // Two pages at once may both have replayed it.
        persons.retain(|kept| kept.person != new.person);
        persons.drain(..(persons.len() + 1).saturating_sub(PERSONS));
        persons.push(new);
        let mut sets: usize = held.iter().flat_map(|(_, persons)| persons).map(|kept| kept.sets).sum();
        while sets > MOST_SETS && held.len() > 1 {
            sets -= held.pop_lru().map_or(0, |(_, persons)| persons.iter().map(|kept| kept.sets).sum());
        }
    }
}

fn address(log: &Arc<ClientLog>) -> usize {
    Arc::as_ptr(log) as usize
}

#[cfg(test)]
mod tests {
    use bavrek_core::dose::{PerHand, StampedLoad};
    use bavrek_core::log::LoggedSet;
    use bavrek_core::units::{Kilograms, MassUnit};
    use chrono::Days;
    use rstest::rstest;

    use super::*;

    fn log(weights: &[f64]) -> Arc<ClientLog> {
        let first: NaiveDate = "2026-03-02".parse().unwrap();
        let set = |(day, kg): (usize, &f64)| LoggedSet {
            load: Some(StampedLoad { value: *kg, unit: MassUnit::Kg, per: PerHand::Hand }),
            reps: Some(9),
            rir: Some(2),
            ..LoggedSet::of("dumbbell_bench_press", first + Days::new(day as u64))
        };
        let mut log = ClientLog::default();
        log.sets.extend(weights.iter().enumerate().map(set));
        Arc::new(log)
    }

    /// What a ledger is made of.
    struct Made {
        catalogue: Arc<Catalogue>,
        log: Arc<ClientLog>,
        person: Person,
        today: NaiveDate,
    }

    impl Made {
        fn usual() -> Self {
            Self {
                catalogue: Arc::new(bavrek_catalogue::load().unwrap()),
                log: log(&[20.0, 22.0, 22.0]),
                person: Person::default_figure(),
                today: "2026-03-10".parse().unwrap(),
            }
        }

        fn known(&self, ledgers: &Ledgers) -> Option<Arc<Replayed>> {
            ledgers.known(&self.catalogue, &self.log, &self.person, self.today)
        }

        fn anew(&self) -> Ledger<'_> {
            Ledger::replay(&self.catalogue, &self.person, &self.log.sets, Some(self.today))
        }

        fn keep(&self, ledgers: &Ledgers) {
            ledgers.keep(Kept {
                log: Arc::downgrade(&self.log),
                sets: self.log.sets.len(),
                person: self.person.clone(),
                today: self.today,
                catalogue: self.catalogue.clone(),
                replayed: self.anew().keep(),
            });
        }
    }

    /// What is kept says the same of every movement as a replay does, and takes more in the same way.
    #[test]
    fn a_kept_ledger_is_the_replayed_one() {
        let (made, ledgers) = (Made::usual(), Ledgers::default());
        made.keep(&ledgers);
        let mut kept = Ledger::kept(&made.catalogue, made.known(&ledgers).unwrap());
        let mut anew = made.anew();
        let later = &log(&[24.0; 9]).sets[8];
        for more in [false, true] {
            if more {
                kept.take(later, None);
                anew.take(later, None);
            }
            for movement in &made.catalogue.movements {
                assert_eq!(kept.predict(movement), anew.predict(movement), "{}, more: {more}", movement.name);
            }
            assert_eq!(kept.notes(), anew.notes());
        }
        let before = Ledger::kept(&made.catalogue, made.known(&ledgers).unwrap());
        let bench = made.catalogue.movement("dumbbell_bench_press").unwrap();
        assert_ne!(before.predict(bench), kept.predict(bench), "what is taken in changes what is kept");
    }

    #[rstest]
    #[case::another_log_of_the_same_sets(|made: &mut Made| made.log = log(&[20.0, 22.0, 22.0]))]
    #[case::a_log_that_grew(|made: &mut Made| made.log = log(&[20.0, 22.0, 22.0, 24.0]))]
    #[case::a_heavier_client(|made: &mut Made| made.person.body_mass_kg = Kilograms(110.0))]
    #[case::another_day(|made: &mut Made| made.today = made.today + Days::new(1))]
    #[case::movements_of_ones_own(|made: &mut Made| made.catalogue = Arc::new(made.catalogue.as_ref().clone()))]
    fn what_changed_is_not_known(#[case] change: fn(&mut Made)) {
        let (mut made, ledgers) = (Made::usual(), Ledgers::default());
        made.keep(&ledgers);
        assert!(made.known(&ledgers).is_some());
        let _still_there = made.log.clone();
        change(&mut made);
        assert!(made.known(&ledgers).is_none());
    }

    /// A client is asked about as limits have it and with what hurts spared, by pages that run at once.
    #[test]
    fn both_persons_of_a_client_are_kept_however_often_one_is_replayed() {
        let (mut made, ledgers) = (Made::usual(), Ledgers::default());
        made.keep(&ledgers);
        let first = made.known(&ledgers).unwrap();
        made.person.body_mass_kg = Kilograms(110.0);
        for _ in 0..3 {
            made.keep(&ledgers);
        }
        assert!(made.known(&ledgers).is_some());
        made.person = Person::default_figure();
        assert!(Arc::ptr_eq(&first, &made.known(&ledgers).unwrap()));
    }

    /// However many logs are read, no more is kept than may be.
    #[test]
    fn what_is_kept_is_bounded() {
        let (mut made, ledgers) = (Made::usual(), Ledgers::default());
        let logs: Vec<Arc<ClientLog>> = (0..100).map(|_| log(&vec![20.0; 1_000])).collect();
        made.log = logs[0].clone();
        let replayed = made.anew().keep();
        for log in &logs {
            ledgers.keep(Kept {
                log: Arc::downgrade(log),
                sets: log.sets.len(),
                person: made.person.clone(),
                today: made.today,
                catalogue: made.catalogue.clone(),
                replayed: replayed.clone(),
            });
        }
        let sets: usize = ledgers.held().iter().flat_map(|(_, kept)| kept).map(|kept| kept.sets).sum();
        assert!((1..=MOST_SETS).contains(&sets), "{sets} sets are kept");
    }
}
