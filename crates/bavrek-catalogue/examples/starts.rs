//! Where first answers start: the share of the first three answers, over a grid of people, rooms and jobs, on which five
//! to thirty repetitions are expected. `cargo run -p bavrek-catalogue --example starts`; with `--all` every answer is
//! printed to be read.

#[path = "../tests/all/common/grid.rs"]
mod grid;

fn main() {
    let catalogue = bavrek_catalogue::load().expect("the shipped catalogue loads");
    let answers = grid::first_three(&catalogue);
    let all = std::env::args().any(|a| a == "--all");
    let only = std::env::args().skip_while(|a| a != "--only").nth(1);
    let (mut told, mut inside, mut above, mut below, mut held) = (0, 0, 0, 0, 0);
    let mut before = (String::new(), String::new(), String::new());
    for answer in &answers {
        let reps = answer.reps();
        match reps {
            None => held += 1,
            Some(n) => {
                told += 1;
                inside += usize::from((5.0..=30.0).contains(&n));
                above += usize::from(n > 40.0);
                below += usize::from(n < 2.0);
            }
        }
        let odd = reps.is_some_and(|n| !(5.0..=30.0).contains(&n));
        let wanted =
            only.as_ref().is_none_or(|o| answer.pattern == o || answer.room == o || answer.person.contains(o.as_str()));
        if (all || odd && only.is_some()) && wanted {
            let head = (answer.person.to_owned(), answer.room.to_owned(), answer.pattern.to_owned());
            if head != before {
                println!("\n{} | {} | {}", head.0, head.1, head.2);
                before = head;
            }
            let c = &answer.candidate;
            println!(
                "   {:.2} {}: {} | {} | {}",
                c.score,
                c.movement.name,
                c.step().label,
                if answer.reps().is_none() {
                    format!("{} s", answer.candidate.prescription.sets[0].seconds.unwrap_or(0))
                } else {
                    c.start.reps_text()
                },
                c.lost.iter().take(2).map(ToString::to_string).collect::<Vec<_>>().join("; ")
            );
        }
    }
    let share = |n: usize| 100.0 * n as f64 / f64::from(told.max(1));
    println!(
        "{} answers, {held} held; of {told} counted in repetitions: {:.1} % at 5 to 30, {:.1} % above 40, {:.1} % below 2",
        answers.len(),
        share(inside),
        share(above),
        share(below)
    );
}
