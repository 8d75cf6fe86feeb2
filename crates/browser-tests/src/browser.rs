//! A headless browser, driven as a user would.

use crate::free_port;
use anyhow::{Context, Result, bail};
use serde_json::{Value, json};
use std::{
    fs,
    path::PathBuf,
    process::{Child, Command, Stdio},
    time::{Duration, Instant},
};
use tempfile::TempDir;
use thirtyfour::{
    ChromiumLikeCapabilities, LoggingPrefsLogLevel, components::SelectElement, error::WebDriverErrorInner, prelude::*,
};
use tokio::time::sleep;

/// How long a screen may take: the view is drawn in software here.
const PATIENCE: Duration = Duration::from_secs(45);

pub struct Browser {
    pub driver: WebDriver,
    folder: TempDir,
    process: Child,
}

const FLAGS: [&str; 17] = [
    "--headless=new",
    "--no-sandbox",
    "--disable-gpu",
    "--use-angle=swiftshader",
    "--enable-unsafe-swiftshader",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--hide-scrollbars",
    "--force-device-scale-factor=1",
    "--force-color-profile=srgb",
    "--force-prefers-reduced-motion",
    "--font-render-hinting=none",
    "--disable-lcd-text",
    "--window-size=1280,800",
];

/// Counts what a page asks of the server and what it has not made use of yet. Of answers to changes, as many as
/// `window.lose` says get lost on their way, and while `window.cut` is set nothing gets to the server.
const COUNTED: &str = "window.asked = 0; const plain = window.fetch; window.fetch = (...question) => { \
    window.asked++; const lost = () => { window.lose--; throw new TypeError('lost'); }; const changes = question[0].method === 'POST'; \
    const answer = changes && window.cut ? Promise.resolve().then(lost) \
        : plain(...question).then((a) => (changes && window.lose > 0 ? lost() : a)); \
    return answer.finally(() => setTimeout(() => window.asked--, 150)); };";

impl Browser {
    /// # Errors
    /// Chromium or its driver does not start.
    pub async fn start() -> Result<Self> {
        let folder = tempfile::tempdir()?;
        fs::create_dir(folder.path().join("downloads"))?;
        let port = free_port();
        let process = Command::new("chromedriver")
            .args([&format!("--port={port}"), "--allowed-ips=127.0.0.1"])
            .stdout(Stdio::null())
            .stderr(Stdio::null())
            .spawn()
            .context("chromedriver is installed: ./tinbadge test sees to it")?;
        let mut capabilities = DesiredCapabilities::chrome();
        for flag in FLAGS {
            capabilities.add_arg(flag)?;
        }
        capabilities.add_arg(&format!("--user-data-dir={}", folder.path().join("profile").display()))?;
        capabilities
            .add_experimental_option("prefs", json!({"download.default_directory": folder.path().join("downloads")}))?;
        capabilities.set_browser_log_level(LoggingPrefsLogLevel::Severe)?;
        let until = Instant::now() + PATIENCE;
        let driver = loop {
            match WebDriver::new(&format!("http://127.0.0.1:{port}"), capabilities.clone()).await {
                Ok(driver) => break driver,
                Err(e) if Instant::now() > until => return Err(e.into()),
                Err(_) => sleep(Duration::from_millis(100)).await,
            }
        };
        let browser = Self { driver, folder, process };
        browser.size(1280, 800).await?;
        browser.tell("Page.addScriptToEvaluateOnNewDocument", json!({"source": COUNTED})).await?;
        Ok(browser)
    }

    /// Makes the window's inside exactly so large, pixels.
    ///
    /// # Errors
    /// The browser is gone.
    pub async fn size(&self, width: u32, height: u32) -> Result<()> {
        let size = json!({"width": width, "height": height, "deviceScaleFactor": 1, "mobile": false});
        self.tell("Emulation.setDeviceMetricsOverride", size).await
    }

    async fn tell(&self, command: &str, settings: Value) -> Result<()> {
        thirtyfour::cdp::Cdp::new(self.driver.handle().clone()).send_raw(command, settings).await?;
        Ok(())
    }

    /// # Errors
    /// The browser is gone.
    pub async fn quit(mut self) -> Result<()> {
        self.driver.clone().quit().await?;
        self.process.kill()?;
        self.process.wait()?;
        Ok(())
    }

    /// The element that `css` names, once it is there.
    ///
    /// # Errors
    /// It did not come.
    pub async fn find(&self, css: &str) -> Result<WebElement> {
        self.found(By::Css(css)).await.with_context(|| format!("“{css}” did not come"))
    }

    async fn found(&self, by: By) -> WebDriverResult<WebElement> {
        self.driver.query(by).wait(PATIENCE, Duration::from_millis(60)).first().await
    }

    /// # Errors
    /// It did not come, or lies under something.
    pub async fn press(&self, css: &str) -> Result<()> {
        self.press_found(By::Css(css)).await.with_context(|| format!("“{css}” can't be pressed"))
    }

    /// Presses the button or link with this text.
    ///
    /// # Errors
    /// There is none, or it lies under something.
    pub async fn press_text(&self, text: &str) -> Result<()> {
        let path = format!("//*[self::button or self::a][normalize-space()='{text}']");
        self.press_found(By::XPath(&path)).await.with_context(|| format!("“{text}” can't be pressed"))
    }

    async fn press_found(&self, by: By) -> WebDriverResult<()> {
        let until = Instant::now() + PATIENCE;
        loop {
            let pressed = async {
                let element = self.found(by.clone()).await?;
                element.scroll_into_view().await?;
                element.click().await
            };
            match pressed.await {
                // drawn anew between looking and pressing, as a hand would not notice
                Err(ref e)
                    if Instant::now() < until && matches!(**e, WebDriverErrorInner::StaleElementReference(..)) => {}
                pressed => return pressed,
            }
        }
    }

    /// Types into a field in place of what is there, and Enter or what `end` says.
    ///
    /// # Errors
    /// There is no such field.
    pub async fn write(&self, css: &str, text: &str, end: Key) -> Result<()> {
        let field = self.find(css).await?;
        field.click().await?;
        field.send_keys(Key::Control + "a").await?;
        field.send_keys(text).await?;
        field.send_keys("" + end).await?;
        Ok(())
    }

    /// The text of the page's element.
    ///
    /// # Errors
    /// There is none.
    pub async fn text(&self, css: &str) -> Result<String> {
        Ok(self.find(css).await?.text().await?)
    }

    /// A script's value.
    ///
    /// # Errors
    /// The script failed.
    pub async fn value(&self, script: &str) -> Result<Value> {
        Ok(self.driver.execute(script, vec![]).await?.json().clone())
    }

    /// Waits until the script's value is true.
    ///
    /// # Errors
    /// It never was; `what` is said.
    pub async fn until(&self, what: &str, script: &str) -> Result<()> {
        let until = Instant::now() + PATIENCE;
        while Instant::now() < until {
            if self.value(script).await.is_ok_and(|v| v == Value::Bool(true)) {
                return Ok(());
            }
            sleep(Duration::from_millis(60)).await;
        }
        let page = self.value("return document.body.innerText").await.unwrap_or_default();
        bail!(
            "{what} did not happen within {} s; the page says:\n{}",
            PATIENCE.as_secs(),
            page.as_str().unwrap_or_default()
        )
    }

    /// Waits until the page says `text` somewhere.
    ///
    /// # Errors
    /// It never did.
    pub async fn says(&self, text: &str) -> Result<()> {
        let wanted = json!(text);
        self.until(&format!("“{text}”"), &format!("return document.body.innerText.includes({wanted})")).await
    }

    /// Waits until the view has been drawn and stands still.
    ///
    /// # Errors
    /// It never did.
    pub async fn still(&self) -> Result<()> {
        let quiet = "return window.asked === 0 && document.querySelector('canvas')?.dataset.idle === 'true'";
        self.until("a quiet view", quiet).await?;
        sleep(Duration::from_millis(250)).await;
        self.until("a quiet view", quiet).await
    }

    /// Waits until what was changed is kept, joined and measured.
    ///
    /// # Errors
    /// It never was.
    pub async fn measured(&self) -> Result<()> {
        self.until("the solid was measured", "return window.asked === 0 && !document.querySelector('[data-busy]')")
            .await
    }

    /// A place on the page, by an element's box and shares of its width and height.
    ///
    /// # Errors
    /// There is no such element.
    pub async fn place(&self, css: &str, x: f64, y: f64) -> Result<(i64, i64)> {
        self.find(css).await?;
        let script = format!(
            "const r = document.querySelector({}).getBoundingClientRect(); return [r.left, r.top, r.width, r.height]",
            json!(css)
        );
        let value = self.value(&script).await?;
        let side = |k: usize| value[k].as_f64().unwrap_or_default();
        Ok(((side(0) + x * side(2)) as i64, (side(1) + y * side(3)) as i64))
    }

    /// Presses a place of the page.
    ///
    /// # Errors
    /// The browser is gone.
    pub async fn press_at(&self, (x, y): (i64, i64)) -> Result<()> {
        Ok(self.driver.action_chain().move_to(x, y).click().perform().await?)
    }

    /// Drags from one place to another in a few steps.
    ///
    /// # Errors
    /// The browser is gone.
    pub async fn drag(&self, from: (i64, i64), to: (i64, i64)) -> Result<()> {
        let mut chain = self.driver.action_chain().move_to(from.0, from.1).click_and_hold();
        for step in 1..=6 {
            chain = chain.move_to(from.0 + (to.0 - from.0) * step / 6, from.1 + (to.1 - from.1) * step / 6);
        }
        Ok(chain.release().perform().await?)
    }

    /// Drops a file on the page, as from the desktop.
    ///
    /// # Errors
    /// The page does not take it.
    pub async fn drop_file(&self, name: &str, bytes: &[u8]) -> Result<()> {
        let script = "const [name, bytes] = arguments; const held = new DataTransfer(); \
            held.items.add(new File([new Uint8Array(bytes)], name)); \
            for (const kind of ['dragenter', 'dragover', 'drop']) \
            document.body.dispatchEvent(new DragEvent(kind, { dataTransfer: held, bubbles: true, cancelable: true }));";
        self.driver.execute(script, vec![json!(name), json!(bytes)]).await?;
        Ok(())
    }

    /// A browser on the list of jobs, with the name given.
    ///
    /// # Errors
    /// The server does not answer, or the page does not take the name.
    pub async fn at_the_bench(base: &str, name: &str) -> Result<Self> {
        let browser = Self::start().await?;
        browser.driver.goto(base).await?;
        browser.write("#person", name, Key::Enter).await?;
        browser.until("the name was taken", "return !document.querySelector('dialog[open] #person')").await?;
        Ok(browser)
    }

    /// Presses the part until the picked face is the wanted one.
    ///
    /// # Errors
    /// No place that was tried shows it.
    pub async fn press_face(&self, says: &str) -> Result<()> {
        self.still().await?;
        for (x, y) in [(0.5, 0.45), (0.5, 0.55), (0.42, 0.48), (0.58, 0.48), (0.5, 0.35), (0.4, 0.6), (0.6, 0.6)] {
            self.press_at(self.place("canvas", x, y).await?).await?;
            self.still().await?;
            let pressed = self.value("return document.querySelector('section.face')?.innerText ?? ''").await?;
            if pressed.as_str().is_some_and(|t| t.contains(says)) {
                return Ok(());
            }
        }
        bail!("no place of the part gave the face {says}")
    }

    /// Takes the choice that reads so from a list of choices, once the list has it.
    ///
    /// # Errors
    /// There is no such list, or no such choice.
    pub async fn choose(&self, css: &str, text: &str) -> Result<()> {
        let (list, wanted) = (json!(css), json!(text));
        let has = format!(
            "return [...document.querySelector({list}).options].some((o) => !o.disabled && o.text === {wanted})"
        );
        self.until(&format!("“{css}” having “{text}”"), &has).await?;
        let list = SelectElement::new(&self.find(css).await?).await?;
        Ok(list.select_by_visible_text(text).await?)
    }

    /// The bytes of a downloaded file whose name ends so, once it is whole.
    ///
    /// # Errors
    /// It did not come.
    pub async fn downloaded(&self, ending: &str) -> Result<Vec<u8>> {
        let until = Instant::now() + PATIENCE;
        while Instant::now() < until {
            let found = fs::read_dir(self.folder.path().join("downloads"))?.flatten().map(|e| e.path());
            let whole: Option<PathBuf> = found.into_iter().find(|p| p.to_string_lossy().ends_with(ending));
            // Chromium keeps the name with an empty file until the whole one takes its place
            if let Some(path) = whole
                && fs::metadata(&path)?.len() > 0
            {
                return Ok(fs::read(path)?);
            }
            sleep(Duration::from_millis(80)).await;
        }
        bail!("no download that ends in {ending}")
    }

    /// Does away with what was downloaded, so that a file of the same name is the next one.
    ///
    /// # Errors
    /// A file can't be removed.
    pub fn forget_downloads(&self) -> Result<()> {
        for file in fs::read_dir(self.folder.path().join("downloads"))?.flatten() {
            fs::remove_file(file.path())?;
        }
        Ok(())
    }

    /// Errors that the pages wrote to the console.
    ///
    /// # Errors
    /// The browser is gone.
    pub async fn complaints(&self) -> Result<Vec<String>> {
        Ok(self.driver.browser_log().await?.into_iter().map(|entry| entry.message).collect())
    }
}

impl Drop for Browser {
    fn drop(&mut self) {
        let _ = self.process.kill();
        let _ = self.process.wait();
        // a browser whose driver is gone would stay; its profile's folder names it
        let _ = Command::new("pkill").arg("-KILL").arg("-f").arg(self.folder.path()).status();
    }
}
