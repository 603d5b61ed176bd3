//! A real server on a free port, two trainers with a client each, and a browser that only knows HTTP.

pub(crate) mod lines;
pub(crate) mod phones;
pub(crate) mod programs;

use std::sync::Arc;
use std::time::Duration;

use bavrek_core::kit::KitItem;
use bavrek_core::person::Experience;
use bavrek_core::plan::{BlockKind, Intent};
use bavrek_core::script::WorkoutState;
use bavrek_core::units::{Kilograms, Metres};
use bavrek_store::clients::Client;
use bavrek_store::sessions::SessionHead;
use bavrek_store::{Pool, TrainerId, clients, kit, new_id, places, sessions, trainers};
use bavrek_web::{App, Clock, Library, hash_password};
use chrono::{DateTime, Utc};
use reqwest::{Response, StatusCode};
use uuid::Uuid;

pub(crate) const PASSWORD: &str = "a password for tests";

pub(crate) fn now() -> DateTime<Utc> {
    "2026-03-10T12:00:00Z".parse().unwrap()
}

/// What one trainer has.
pub(crate) struct World {
    pub(crate) trainer: TrainerId,
    pub(crate) client: Uuid,
    pub(crate) place: Uuid,
    pub(crate) dumbbells: Uuid,
    pub(crate) session: Uuid,
    pub(crate) slot: Uuid,
}

pub(crate) async fn world(pool: &Pool, email: &str) -> World {
    let hash = hash_password(PASSWORD).unwrap();
    let trainer = trainers::add(pool, email, "Trainer", &hash).await.unwrap();
    let name = format!("Client of {email}");
    let client = Client::new(&name, Kilograms(75.0), Metres(1.75), Experience::Intermediate);
    let client = Client { goal: "size".into(), ..client };
    let client = clients::add(pool, trainer, &client, now().date_naive()).await.unwrap();
    let place = new_id();
    places::add(pool, trainer, client, place, "Room", None).await.unwrap();
    let dumbbells: KitItem =
        serde_json::from_str(r#"{"kind":"dumbbells","unit":"kg","pairs":[8,8.5,9,9.5,10,10.5,11,11.5,12]}"#).unwrap();
    let piece = new_id();
    kit::add(pool, trainer, place, piece, &dumbbells).await.unwrap();
    let band: KitItem = serde_json::from_str(
        r#"{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045}"#,
    )
    .unwrap();
    kit::add(pool, trainer, place, new_id(), &band).await.unwrap();
    let intent: Intent = serde_json::from_str(
        r#"{"pattern":"elbow_flexion","regions":{"biceps_long":1.0},"reps":[8,12],"rir":2,"sets":2}"#,
    )
    .unwrap();
    let head = SessionHead {
        id: new_id(),
        client_id: client,
        place_id: place,
        name: "Session".into(),
        planned_on: now().date_naive(),
        state: WorkoutState::Planned,
        turn: bavrek_core::calendar::Turn::Usual,
        light: false,
        minutes: 30,
        method: None,
        follows: None,
        version: 0,
    };
    let (session, slots) = sessions::add(pool, trainer, &head, &[(BlockKind::Straight, vec![intent])]).await.unwrap();
    World { trainer, client, place, dumbbells: piece, session, slot: slots[0] }
}

/// Starts the application on a free port.
pub(crate) async fn start(pool: Pool) -> String {
    start_at(pool, now()).await
}

/// The same on another day.
pub(crate) async fn start_at(pool: Pool, now: DateTime<Utc>) -> String {
    serve(app_at(pool, now)).await
}

/// The same of an application that was put together.
pub(crate) async fn serve(app: App) -> String {
    let listener = bavrek_web::listen("127.0.0.1:0".parse().unwrap()).unwrap();
    let address = format!("http://{}", listener.local_addr().unwrap());
    tokio::spawn(bavrek_web::serve(app, listener, std::future::pending()));
    address
}

/// The application on a day.
pub(crate) fn app_at(pool: Pool, now: DateTime<Utc>) -> App {
    let catalogue = bavrek_catalogue::load().unwrap();
    App {
        pool,
        replica: None,
        library: Arc::new(Library::of(&catalogue)),
        catalogue: Arc::new(catalogue),
        cautions: Arc::new(bavrek_catalogue::general_cautions().unwrap()),
        intake: Arc::new(bavrek_catalogue::intake().unwrap()),
        logs: Arc::default(),
        ladders: Arc::default(),
        ledgers: Arc::default(),
        handed: Arc::default(),
        // A machine on which much else is done may stand still for some seconds.
        longest: Duration::from_secs(90),
        budget: Arc::default(),
        live: Arc::default(),
        outbox: Arc::default(),
        hashing: Arc::default(),
        address: "http://bavrek.example".into(),
        behind_proxy: false,
        clock: Clock::Fixed(now),
        secure_cookies: false,
    }
}

/// Letters as files in a folder.
pub(crate) fn to_folder(folder: &std::path::Path) -> Arc<bavrek_web::Delivery> {
    Arc::new(bavrek_web::Delivery::new(Some(folder.to_owned()), None).unwrap())
}

/// A page as it came.
pub(crate) struct Page {
    pub(crate) status: StatusCode,
    pub(crate) address: String,
    pub(crate) text: String,
}

/// A page in one line, however its template is laid out: blanks run together, and tags end where their last word does.
fn flat(text: &str) -> String {
    let words: Vec<&str> = text.split_whitespace().collect();
    words.join(" ").replace(" />", ">").replace(" >", ">")
}

impl Page {
    async fn of(response: Response) -> Self {
        let (status, address) = (response.status(), response.url().path().to_owned());
        Self { status, address, text: flat(&response.text().await.unwrap()) }
    }

    /// The value of a hidden field.
    pub(crate) fn hidden(&self, name: &str) -> String {
        let start = format!("name=\"{name}\" value=\"");
        let from = self.text.find(&start).unwrap_or_else(|| panic!("no field {name}")) + start.len();
        self.text[from..].split('"').next().unwrap().to_owned()
    }
}

/// Someone who asks for pages.
pub(crate) struct Visitor {
    http: reqwest::Client,
    jar: Arc<reqwest::cookie::Jar>,
    base: String,
    pub(crate) csrf: String,
}

impl Visitor {
    pub(crate) fn new(base: &str) -> Self {
        let jar = Arc::new(reqwest::cookie::Jar::default());
        let http = reqwest::Client::builder().cookie_provider(jar.clone()).build().unwrap();
        Self { http, jar, base: base.to_owned(), csrf: String::new() }
    }

    pub(crate) async fn signed_in(base: &str, email: &str) -> Self {
        let mut visitor = Self::new(base);
        let page = visitor.signs_in(email, PASSWORD).await;
        assert_eq!((page.status, page.address.as_str()), (StatusCode::OK, "/"));
        visitor
    }

    /// What the browser keeps under a name; empty where it keeps nothing.
    pub(crate) fn cookie(&self, name: &str) -> String {
        use reqwest::cookie::CookieStore;
        let kept = self.jar.cookies(&self.base.parse().unwrap());
        let kept = kept.as_ref().map_or("", |kept| kept.to_str().unwrap());
        let pairs = kept.split("; ").filter_map(|pair| pair.split_once('='));
        pairs.filter(|(n, _)| *n == name).map(|(_, value)| value.to_owned()).collect()
    }

    /// Goes through the door; what forms need from then on is read off the page that follows.
    pub(crate) async fn signs_in(&mut self, email: &str, password: &str) -> Page {
        self.csrf = self.get("/sign-in").await.hidden("csrf");
        let page = self.post("/sign-in", &[("email", email), ("password", password)]).await;
        if page.text.contains("name=\"csrf\"") {
            self.csrf = page.hidden("csrf");
        }
        page
    }

    pub(crate) async fn get(&self, path: &str) -> Page {
        Page::of(self.http.get(format!("{}{path}", self.base)).send().await.unwrap()).await
    }

    pub(crate) async fn post(&self, path: &str, fields: &[(&str, &str)]) -> Page {
        let fields = [&[("csrf", self.csrf.as_str())], fields].concat();
        self.post_bare(path, &fields).await
    }

    /// A form without the token.
    pub(crate) async fn post_bare(&self, path: &str, fields: &[(&str, &str)]) -> Page {
        let request = self.http.post(format!("{}{path}", self.base)).form(fields);
        Page::of(request.send().await.unwrap()).await
    }

    /// An answer that goes on.
    pub(crate) async fn stream(&self, path: &str) -> Response {
        self.http.get(format!("{}{path}", self.base)).send().await.unwrap()
    }

    /// Any request, as it comes back.
    pub(crate) async fn ask(&self, method: reqwest::Method, path: &str, kind: &str, body: String) -> Response {
        let request = self.http.request(method, format!("{}{path}", self.base));
        let request = if kind.is_empty() { request } else { request.header("content-type", kind).body(body) };
        request.send().await.unwrap()
    }

    /// What a page asks for to swap a part of itself.
    pub(crate) async fn swap(&self, path: &str) -> Response {
        self.http.get(format!("{}{path}", self.base)).header("HX-Request", "true").send().await.unwrap()
    }

    pub(crate) fn base(&self) -> String {
        self.base.clone()
    }

    pub(crate) async fn post_json(&self, path: &str, body: &str) -> Page {
        let request = self.http.post(format!("{}{path}", self.base)).body(body.to_owned());
        Page::of(request.send().await.unwrap()).await
    }
}

impl Visitor {
    /// The same browser at another address.
    pub(crate) fn through(&self, base: &str) -> Self {
        Self { http: self.http.clone(), jar: self.jar.clone(), base: base.to_owned(), csrf: self.csrf.clone() }
    }
}

/// The address of the trainer at the [`desk`].
pub(crate) const DESK: &str = "a@bavrek.example";

/// Fields of a form, what the refusal says, and what it keeps.
pub(crate) type Refusal<'a> = (&'a [(&'a str, &'a str)], &'a str, &'a str);

/// A trainer's world, and that trainer signed in.
pub(crate) async fn desk(pool: &Pool) -> (World, Visitor) {
    let world = world(pool, DESK).await;
    let base = start(pool.clone()).await;
    let visitor = Visitor::signed_in(&base, DESK).await;
    (world, visitor)
}

/// The usual fields of a form with some changed or added.
pub(crate) fn with<'a>(usual: &[(&'a str, &'a str)], changed: &[(&'a str, &'a str)]) -> Vec<(&'a str, &'a str)> {
    let kept = usual.iter().filter(|(name, _)| changed.iter().all(|(c, _)| c != name));
    kept.chain(changed).copied().collect()
}

/// A refusal that stands beside its field and keeps what was typed.
pub(crate) fn assert_refused(page: &Page, says: &str, keeps: &str) {
    assert_eq!(page.status, StatusCode::UNPROCESSABLE_ENTITY, "{says}");
    assert!(page.text.contains(says), "{says} is not said");
    assert!(page.text.contains(keeps), "{keeps} is not kept");
}

/// A client's profile as it is typed.
pub(crate) const PROFILE: [(&str, &str); 6] = [
    ("name", "Tamsin Reed"),
    ("height", "168 cm"),
    ("body_mass", "157 lb"),
    ("experience", "novice"),
    ("time_zone", "Europe/Lisbon"),
    ("mass_unit", "kg"),
];

/// A limit as it is typed.
pub(crate) const LIMIT: [(&str, &str); 5] = [
    ("joint", "shoulder"),
    ("what", "pain_overhead"),
    ("side", "left"),
    ("severity", "severe"),
    ("since", "2026-03-01"),
];

/// Every question answered with no, but for one.
pub(crate) fn answers(yes: Option<&str>) -> Vec<(String, String)> {
    let questions = bavrek_catalogue::intake().unwrap().questions;
    let answer = |id: &str| if Some(id) == yes { "yes" } else { "no" };
    questions.iter().map(|q| (format!("q_{}", q.id), answer(&q.id).to_owned())).collect()
}
