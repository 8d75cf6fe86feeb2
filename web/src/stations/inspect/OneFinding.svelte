<!-- The pressed finding: how it stands, in a sentence, what would mend it, and who answers for it. -->
<script lang="ts">
  import type { Finding } from "../../api/client";
  import StateShape from "../../pieces/StateShape.svelte";
  import type { Session } from "../../session.svelte";
  import { checkNames, stands, withUnit } from "../../words";
  import { limitWords } from "./limit";
  import Mends from "./Mends.svelte";
  import Waive from "./Waive.svelte";

  let {
    session,
    finding,
    varies,
    onread,
  }: {
    session: Session;
    finding: Finding;
    /** The job has a roster of several rows. */
    varies: boolean;
    /** Opens the reading test, of a mark that has one. */
    onread?: () => void;
  } = $props();
</script>

<section class="finding {finding.state}" aria-live="polite">
  <h2>
    <StateShape state={finding.state} size={14} />
    {checkNames[finding.check].whole}: {stands(finding)}
  </h2>
  <p>{finding.sentence}</p>
  {#if (finding.state === "fails" || finding.state === "marginal") && !session.stale}
    <Mends {session} {finding} />
  {/if}
  {#if finding.state === "fails" && !session.stale}
    <Waive {session} {finding} {varies} />
  {/if}
  {#if finding.limit}
    <p class="soft">
      Limit {limitWords(finding)}, marginal within {withUnit(finding.limit.margin, finding.unit)} of it; source: {finding
        .limit.source} ({finding.limit.sheet}).
    </p>
  {/if}
  {#if finding.error > 0}<p class="soft">
      The measurement itself is accurate to within {withUnit(Number(finding.error.toPrecision(2)), finding.unit)}.
    </p>{/if}
  <p>
    <a class="word" href="/jobs/{session.id}/marks?mark={encodeURIComponent(finding.mark)}">change the mark</a>
    {#if onread}
      · <button class="word" onclick={onread}>can it be read?</button>
    {/if}
  </p>
</section>

<style>
  .finding {
    max-height: 45%;
    overflow-y: auto;
    padding: 14px 20px 16px;
    border-top: 2px solid var(--rim);
  }
  .finding h2 {
    margin-bottom: 6px;
  }
  .finding p {
    margin: 0 0 6px;
  }
  .finding.fails h2 {
    color: var(--fail);
  }
  .finding.marginal h2 {
    color: var(--marginal);
  }
</style>
