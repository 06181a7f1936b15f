//! A headless Chromium with its own ChromeDriver.

use std::error::Error;
use std::io::{BufRead as _, BufReader};
use std::path::Path;
use std::process::{Child, Command, Stdio};
use std::sync::Arc;
use std::time::{Duration, Instant};

use tempfile::TempDir;
use thirtyfour::common::capabilities::chromium::ChromiumLikeCapabilities as _;
use thirtyfour::error::{WebDriverError, WebDriverResult};
use thirtyfour::extensions::query::ElementPollerWithTimeout;
use thirtyfour::prelude::*;
use thirtyfour::{LoggingPrefsLogLevel, TypingData};

use crate::ServedWorkshop;

type Outcome<T> = Result<T, Box<dyn Error>>;

const FLAGS: &[&str] = &[
    "--headless=new",
    "--no-sandbox",
    "--disable-dev-shm-usage",
    "--disable-gpu",
    "--window-size=1280,800",
    "--hide-scrollbars",
    "--force-device-scale-factor=1",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--disable-extensions",
    "--no-pings",
];

/// How long something is waited for: a busy machine with a slow disk takes its time.
const PATIENCE: Duration = Duration::from_secs(30);

/// How often something is tried on a page that follows a run, and may replace what was just found.
const TRIES: usize = 5;

/// What was found is no longer on the page. Where it goes between being found and being scrolled to, ChromeDriver says so
/// in the words of the browser's inspector.
fn is_stale(error: &WebDriverError) -> bool {
    let said = error.to_string();
    said.contains("stale element") || said.contains("does not belong to the document")
}

/// One browser. [`Browser::close`] looks into its log before it ends.
#[derive(Debug)]
pub struct Browser {
    driver: WebDriver,
    _chromedriver: ChromeDriver,
    _profile: TempDir,
}

impl Browser {
    /// Starts ChromeDriver on a free port and a browser with an empty profile.
    ///
    /// # Errors
    /// When one of them is missing; `make test` installs both.
    pub async fn start() -> Outcome<Self> {
        let chromedriver = ChromeDriver::start()?;
        let profile = tempfile::tempdir()?;
        let mut capabilities = DesiredCapabilities::chrome();
        for flag in FLAGS {
            capabilities.add_arg(flag)?;
        }
        // Nothing but this machine: a page that asked for anything else would fail here.
        capabilities.add_arg(&format!(
            "--host-resolver-rules=MAP * ~NOTFOUND , EXCLUDE 127.0.0.1 , EXCLUDE localhost , EXCLUDE {}",
            web::own_address()
        ))?;
        capabilities.add_arg(&format!("--user-data-dir={}", profile.path().display()))?;
        capabilities.set_logging_prefs("browser", LoggingPrefsLogLevel::All)?;
        let poller = ElementPollerWithTimeout::new(PATIENCE, Duration::from_millis(50));
        let driver =
            WebDriver::builder(chromedriver.url(), capabilities).poller(Arc::new(poller)).await?;
        Ok(Self { driver, _chromedriver: chromedriver, _profile: profile })
    }

    /// Opens a page.
    ///
    /// # Errors
    /// When it cannot be reached.
    pub async fn open(&self, url: &str) -> Outcome<()> {
        Ok(self.driver.goto(url).await?)
    }

    /// How wide the page is, and how wide the window, in CSS pixels.
    ///
    /// # Errors
    /// When the browser does not answer.
    pub async fn widths(&self) -> Outcome<(u32, u32)> {
        let script = "return [document.documentElement.scrollWidth, window.innerWidth]";
        Ok(self.driver.execute(script, vec![]).await?.convert()?)
    }

    /// Opens a page in another tab, which is the one in front from then on.
    ///
    /// # Errors
    /// When it cannot be reached.
    pub async fn open_in_a_new_tab(&self, url: &str) -> Outcome<()> {
        let tab = self.driver.new_tab().await?;
        self.driver.switch_to_window(tab).await?;
        self.open(url).await
    }

    /// The address at hand.
    ///
    /// # Errors
    /// When the browser is gone.
    pub async fn address(&self) -> Outcome<String> {
        Ok(self.driver.current_url().await?.to_string())
    }

    /// Text of the first element that matches, waiting for it.
    ///
    /// # Errors
    /// When there is none in time.
    pub async fn text(&self, css: &str) -> Outcome<String> {
        self.until(&format!("a {css}"), css, |texts| !texts.is_empty()).await?;
        Ok(self.texts(css).await?.into_iter().next().unwrap_or_default())
    }

    /// Waits until an element that matches shows a text that contains this one.
    ///
    /// # Errors
    /// When none does in time; the message tells what stands there.
    pub async fn shows(&self, css: &str, expected: &str) -> Outcome<()> {
        self.until(&format!("{css} with “{expected}”"), css, |texts| {
            texts.iter().any(|text| text.contains(expected))
        })
        .await
    }

    /// Waits until so many elements match.
    ///
    /// # Errors
    /// When another number does in time.
    pub async fn counts(&self, css: &str, expected: usize) -> Outcome<()> {
        self.until(&format!("{expected} of {css}"), css, |texts| texts.len() == expected).await
    }

    async fn until(&self, what: &str, css: &str, holds: impl Fn(&[String]) -> bool) -> Outcome<()> {
        let patience = Instant::now() + PATIENCE;
        loop {
            // A page that is just being replaced has no elements to ask.
            let texts = self.texts(css).await.unwrap_or_default();
            if holds(&texts) {
                return Ok(());
            }
            if Instant::now() > patience {
                return Err(format!("waited for {what}, found {texts:?}").into());
            }
            tokio::time::sleep(Duration::from_millis(50)).await;
        }
    }

    /// Texts of all elements that match now.
    ///
    /// # Errors
    /// When the browser is gone.
    pub async fn texts(&self, css: &str) -> Outcome<Vec<String>> {
        // All at once: a page that follows a run may replace them at any time.
        let script = "return [...document.querySelectorAll(arguments[0])]\
                      .map((it) => it.checkVisibility() ? (it.innerText ?? '').trim() : '');";
        Ok(self.driver.execute(script, vec![css.into()]).await?.convert()?)
    }

    /// Waits until another page is shown than this one.
    ///
    /// # Errors
    /// When none is in time.
    pub async fn moved_from(&self, address: &str) -> Outcome<()> {
        let patience = Instant::now() + PATIENCE;
        while self.address().await? == address {
            if Instant::now() > patience {
                return Err(format!("still at {address}").into());
            }
            tokio::time::sleep(Duration::from_millis(20)).await;
        }
        Ok(())
    }

    /// Waits until the first element that matches shows another text than this one.
    ///
    /// # Errors
    /// When it does not in time.
    pub async fn differs(&self, css: &str, before: &str) -> Outcome<()> {
        let what = format!("{css} to change");
        self.until(&what, css, |texts| texts.first().is_some_and(|text| text != before)).await
    }

    /// Waits until so many fields that match are filled.
    ///
    /// # Errors
    /// When they are not in time.
    pub async fn fills(&self, css: &str, count: usize) -> Outcome<()> {
        let patience = Instant::now() + PATIENCE;
        loop {
            let filled = self.values(css).await?.iter().filter(|it| !it.is_empty()).count();
            if filled == count {
                return Ok(());
            }
            if Instant::now() > patience {
                let trouble = self.texts("[role=alert]").await?;
                return Err(
                    format!("{filled} of {css} are filled, not {count}: {trouble:?}").into()
                );
            }
            tokio::time::sleep(Duration::from_millis(50)).await;
        }
    }

    /// What stands in every field that matches.
    ///
    /// # Errors
    /// When the browser is gone.
    pub async fn values(&self, css: &str) -> Outcome<Vec<String>> {
        let script = "return [...document.querySelectorAll(arguments[0])].map((it) => it.value);";
        Ok(self.driver.execute(script, vec![css.into()]).await?.convert()?)
    }

    /// Gives the window another size, in px.
    ///
    /// # Errors
    /// When the browser is gone.
    pub async fn resize(&self, width: u32, height: u32) -> Outcome<()> {
        Ok(self.driver.set_window_rect(0, 0, width, height).await?)
    }

    /// The texts of each child of every element that matches: a table row by row.
    ///
    /// # Errors
    /// When the browser is gone.
    pub async fn rows(&self, css: &str) -> Outcome<Vec<Vec<String>>> {
        let script = "return [...document.querySelectorAll(arguments[0])]\
                      .map((row) => [...row.children].map((it) => it.innerText));";
        Ok(self.driver.execute(script, vec![css.into()]).await?.convert()?)
    }

    /// An attribute or property of the first element that matches.
    ///
    /// # Errors
    /// When there is none in time.
    pub async fn value(&self, css: &str) -> Outcome<String> {
        let element = self.driver.query(By::Css(css)).first().await?;
        Ok(element.prop("value").await?.unwrap_or_default())
    }

    /// Types into a field, replacing what stands there.
    ///
    /// # Errors
    /// When there is no such field.
    pub async fn fill(&self, css: &str, text: &str) -> Outcome<()> {
        for _ in 0..TRIES {
            match self.try_fill(css, text).await {
                Err(error) if is_stale(&error) => {}
                done => return Ok(done?),
            }
        }
        Err(format!("{css} is replaced again and again").into())
    }

    async fn try_fill(&self, css: &str, text: &str) -> WebDriverResult<()> {
        let field = self.driver.query(By::Css(css)).first().await?;
        field.clear().await?;
        field.send_keys(text).await
    }

    /// Chooses a file to upload.
    ///
    /// # Errors
    /// When there is no such field.
    pub async fn upload(&self, css: &str, file: &Path) -> Outcome<()> {
        let field = self.driver.query(By::Css(css)).first().await?;
        Ok(field.send_keys(file.to_string_lossy().as_ref()).await?)
    }

    /// Puts the tubes of a shelf file on the shelf, by way of its preview.
    ///
    /// # Errors
    /// When a page does not answer as it should.
    pub async fn stock(&self, workshop: &ServedWorkshop, shelf: &str) -> Outcome<()> {
        self.open(&workshop.url("/shelf/import")).await?;
        self.upload("#file", &workshop.file("shelf.csv", shelf)?).await?;
        self.click("Preview").await?;
        self.click("Save these tubes").await
    }

    /// Voids the reading that was taken last.
    ///
    /// # Errors
    /// When there is none, or it does not become void.
    pub async fn void_last(&self, reason: &str) -> Outcome<()> {
        self.press("v").await?;
        self.fill("details[open] input[name=reason]", reason).await?;
        self.click("Void it").await?;
        self.shows(".bench-readings .is-void", &format!("void: {reason}")).await
    }

    /// Chooses the option whose text begins so, by typing it as a keyboard user would.
    ///
    /// # Errors
    /// When there is no such option.
    pub async fn choose(&self, css: &str, text: &str) -> Outcome<()> {
        let list = self.driver.query(By::Css(css)).first().await?;
        list.send_keys(text).await?;
        let chosen = list.query(By::Css("option:checked")).first().await?.text().await?;
        if chosen.starts_with(text) {
            return Ok(());
        }
        Err(format!("{css} has no option “{text}”, but “{chosen}”").into())
    }

    /// Clicks the first link, button or label whose text begins so.
    ///
    /// # Errors
    /// When there is none in time.
    pub async fn click(&self, text: &str) -> Outcome<()> {
        let clickable = "self::a or self::button or self::label or self::summary";
        let path = format!("//*[{clickable}][starts-with(normalize-space(.), \"{text}\")]");
        for _ in 0..TRIES {
            match self.try_click(&path).await {
                Err(error) if is_stale(&error) => {}
                done => return done.map_err(|error| format!("“{text}”: {error}").into()),
            }
        }
        Err(format!("“{text}” is replaced again and again").into())
    }

    async fn try_click(&self, path: &str) -> WebDriverResult<()> {
        let element = self.driver.query(By::XPath(path)).first().await?;
        element.scroll_into_view().await?;
        element.click().await
    }

    /// Presses a key as a user beside wet paint would: on the page, not in a field.
    ///
    /// # Errors
    /// When the browser is gone.
    pub async fn press(&self, key: impl Into<TypingData>) -> Outcome<()> {
        Ok(self.driver.query(By::Tag("body")).first().await?.send_keys(key).await?)
    }

    /// Presses a key inside one field, as Enter at the end of it.
    ///
    /// # Errors
    /// When there is no such field.
    pub async fn press_in(&self, css: &str, key: impl Into<TypingData>) -> Outcome<()> {
        Ok(self.driver.query(By::Css(css)).first().await?.send_keys(key).await?)
    }

    /// Drags an element by so many CSS pixels to the right and down.
    ///
    /// # Errors
    /// When there is no such element.
    pub async fn drag(&self, css: &str, (right, down): (i64, i64)) -> Outcome<()> {
        let held = self.driver.query(By::Css(css)).first().await?;
        let chain = self.driver.action_chain().click_and_hold_element(&held);
        Ok(chain.move_by_offset(right, down).release().perform().await?)
    }

    /// What a script of the page's own kind returns.
    ///
    /// # Errors
    /// When it returns something else.
    pub async fn told_by<T: serde::de::DeserializeOwned>(&self, script: &str) -> Outcome<T> {
        Ok(self.driver.execute(script, vec![]).await?.convert()?)
    }

    /// The text behind an address, as the page's own script would get it.
    ///
    /// # Errors
    /// When it cannot be fetched.
    pub async fn fetch(&self, path: &str) -> Outcome<String> {
        let script = "const done = arguments[1]; \
                      fetch(arguments[0]).then((it) => it.text()).then(done);";
        let found = self.driver.execute_async(script, vec![path.into()]).await?;
        Ok(found.convert()?)
    }

    /// Ends the browser after a server or a device was away: what the browser itself says of that is
    /// no error of the page.
    ///
    /// # Errors
    /// When a page had written another error to the console.
    pub async fn close_after_trouble(self) -> Outcome<()> {
        self.close_but(&["503 (Service", "ERR_", "MIME type"]).await
    }

    /// Ends the browser.
    ///
    /// # Errors
    /// When a page had written an error to the console.
    pub async fn close(self) -> Outcome<()> {
        self.close_but(&[]).await
    }

    async fn close_but(self, excused: &[&str]) -> Outcome<()> {
        let log = self.driver.browser_log().await?;
        self.driver.quit().await?;
        // The answer 422 to a form that is shown again with its errors is meant.
        let meant = |message: &str| {
            message.contains("422 (Unprocessable") || excused.iter().any(|it| message.contains(it))
        };
        let severe: Vec<_> = log
            .iter()
            .filter(|entry| entry.level == "SEVERE" && !meant(&entry.message))
            .map(|entry| entry.message.clone())
            .collect();
        if severe.is_empty() { Ok(()) } else { Err(severe.join("\n").into()) }
    }
}

/// A running ChromeDriver, ended with all its browsers.
#[derive(Debug)]
struct ChromeDriver {
    process: Child,
    port: u16,
}

impl ChromeDriver {
    fn start() -> Outcome<Self> {
        use std::os::unix::process::CommandExt as _;
        // setpriv ends it with this program, even one that is killed.
        let mut process = Command::new("setpriv")
            .args(["--pdeathsig", "KILL", "--", "chromedriver", "--port=0"])
            .stdout(Stdio::piped())
            .stderr(Stdio::null())
            .process_group(0)
            .spawn()?;
        let output = process.stdout.take().ok_or("chromedriver has no output")?;
        for line in BufReader::new(output).lines() {
            let line = line?;
            if let Some((_, port)) = line.split_once("started successfully on port ") {
                let port = port.trim_end_matches('.').parse()?;
                return Ok(Self { process, port });
            }
        }
        Err("chromedriver ended before it listened".into())
    }

    fn url(&self) -> String {
        format!("http://127.0.0.1:{}", self.port)
    }
}

impl Drop for ChromeDriver {
    fn drop(&mut self) {
        let group = format!("-{}", self.process.id());
        let _ = Command::new("kill").args(["-KILL", "--", &group]).status();
        let _ = self.process.wait();
    }
}
