//! A browser that a test drives through its debugging pipe, as a hand would: it moves the pointer, presses and looks.

use std::fs::{File, OpenOptions};
use std::io::{BufRead as _, BufReader, Write as _};
use std::path::Path;
use std::process::{Child, Command, Stdio};
use std::sync::mpsc::{Receiver, channel};
use std::time::Duration;

use serde_json::{Value, json};

/// Longer than any answer takes on a busy machine.
const PATIENCE: Duration = Duration::from_secs(120);

/// A browser with one page.
pub struct Browser {
    process: Child,
    to: File,
    from: Receiver<Value>,
    session: String,
    calls: u64,
    /// What it reported without being asked.
    pub events: Vec<Value>,
}

/// The names under which a browser may be installed.
const PROGRAMS: [&str; 3] = ["chromium", "chromium-browser", "chrome"];

fn program() -> Option<&'static str> {
    let is_there = |name: &&&str| {
        let answer = Command::new(name).arg("--version").stderr(Stdio::null()).stdout(Stdio::null()).status();
        answer.is_ok_and(|status| status.success())
    };
    PROGRAMS.iter().find(is_there).copied()
}

impl Browser {
    /// Starts a browser that keeps its files in a folder; none where there is no browser.
    pub fn start(folder: &Path) -> Option<Self> {
        let program = program()?;
        let pipes = ["to-browser", "from-browser"].map(|name| folder.join(name));
        assert!(Command::new("mkfifo").args(&pipes).status().is_ok_and(|status| status.success()));
        let start = format!(
            "exec {program} --headless=new --no-sandbox --disable-gpu --disable-dev-shm-usage --window-size=1280,800 \
             --user-data-dir=profile --remote-debugging-pipe about:blank 3<to-browser 4>from-browser"
        );
        let process = Command::new("sh")
            .args(["-c", &start])
            .current_dir(folder)
            .stdout(Stdio::null())
            .stderr(Stdio::null())
            .spawn()
            .expect("a shell");
        let to = OpenOptions::new().write(true).open(&pipes[0]).expect("the pipe to the browser");
        let from = File::open(&pipes[1]).expect("the pipe from the browser");
        let mut browser =
            Self { process, to, from: messages(from), session: String::new(), calls: 0, events: Vec::new() };
        let targets = browser.call("Target.getTargets", &json!({}));
        let pages = targets["targetInfos"].as_array().expect("targets");
        let page = pages.iter().find(|target| target["type"] == "page").expect("a page");
        let attached =
            browser.call("Target.attachToTarget", &json!({"targetId": page["targetId"], "flatten": true}));
        attached["sessionId"].as_str().expect("a session").clone_into(&mut browser.session);
        for domain in ["Page", "Runtime", "Log", "Network"] {
            browser.call(&format!("{domain}.enable"), &json!({}));
        }
        Some(browser)
    }

    /// Asks the browser for something and waits for its answer.
    pub fn call(&mut self, method: &str, params: &Value) -> Value {
        self.calls += 1;
        let mut message = json!({"id": self.calls, "method": method, "params": params});
        if !self.session.is_empty() {
            message["sessionId"] = json!(self.session);
        }
        write!(self.to, "{message}\0").expect("a browser that listens");
        loop {
            let answer = self.from.recv_timeout(PATIENCE).expect("an answer of the browser");
            if answer["id"] == json!(self.calls) {
                assert!(answer.get("error").is_none(), "{method}: {answer}");
                return answer["result"].clone();
            }
            self.events.push(answer);
        }
    }

    /// Opens a file and waits until all of it is there.
    pub fn open(&mut self, path: &Path) {
        self.call("Page.navigate", &json!({"url": format!("file://{}", path.display())}));
        while !self.events.iter().any(|event| event["method"] == "Page.loadEventFired") {
            let event = self.from.recv_timeout(PATIENCE).expect("a page that loads");
            self.events.push(event);
        }
    }

    /// The value of an expression in the page.
    pub fn value(&mut self, expression: &str) -> Value {
        let answer = self.call(
            "Runtime.evaluate",
            &json!({"expression": expression, "returnByValue": true, "awaitPromise": true}),
        );
        assert!(answer.get("exceptionDetails").is_none(), "{expression}: {answer}");
        answer["result"]["value"].clone()
    }

    /// The text of an expression in the page.
    pub fn text(&mut self, expression: &str) -> String {
        self.value(expression).as_str().unwrap_or_default().to_owned()
    }

    fn mouse(&mut self, kind: &str, (x, y): (f64, f64), clicks: u32) {
        let button = if clicks > 0 { "left" } else { "none" };
        let event = json!({"type": kind, "x": x, "y": y, "button": button, "clickCount": clicks});
        self.call("Input.dispatchMouseEvent", &event);
    }

    /// Moves the pointer there.
    pub fn point(&mut self, at: (f64, f64)) {
        self.mouse("mouseMoved", at, 0);
    }

    /// Clicks there a number of times.
    pub fn click(&mut self, at: (f64, f64), times: u32) {
        self.point(at);
        for count in 1..=times {
            self.mouse("mousePressed", at, count);
            self.mouse("mouseReleased", at, count);
        }
    }

    /// Drags from one place to another.
    pub fn drag(&mut self, from: (f64, f64), to: (f64, f64)) {
        self.point(from);
        self.mouse("mousePressed", from, 1);
        self.mouse("mouseMoved", (0.5 * (from.0 + to.0), to.1), 1);
        self.mouse("mouseMoved", to, 1);
        self.mouse("mouseReleased", to, 1);
    }

    /// What went wrong in the page, and what it asked for beyond its own file.
    pub fn faults(&self) -> Vec<String> {
        let is_fault = |event: &&Value| match event["method"].as_str() {
            Some("Runtime.exceptionThrown" | "Log.entryAdded" | "Runtime.consoleAPICalled") => true,
            Some("Network.requestWillBeSent") => {
                !event["params"]["request"]["url"].as_str().is_some_and(|url| url.starts_with("file://"))
                    || event["params"]["type"] != "Document"
            }
            _ => false,
        };
        self.events.iter().filter(is_fault).map(ToString::to_string).collect()
    }
}

/// The messages of a browser, which end in zeros.
fn messages(from: File) -> Receiver<Value> {
    let (give, take) = channel();
    std::thread::spawn(move || {
        let mut reader = BufReader::new(from);
        loop {
            let mut bytes = Vec::new();
            match reader.read_until(0, &mut bytes) {
                Ok(0) | Err(_) => return,
                Ok(_) => bytes.pop(),
            };
            let message = serde_json::from_slice(&bytes);
            if message.is_ok_and(|message| give.send(message).is_err()) {
                return;
            }
        }
    });
    take
}

impl Drop for Browser {
    fn drop(&mut self) {
        // One that has gone already needs no ending.
        drop(self.process.kill());
        drop(self.process.wait());
    }
}
