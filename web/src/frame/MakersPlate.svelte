<!-- The maker's plate: the way back to the jobs. -->
<script lang="ts">
  // nothing to keep: a plate and a way back
</script>

<a href="/" aria-label="Tin Badge: all jobs"><i></i>TIN BADGE<i></i></a>

<style>
  a {
    display: flex;
    align-items: center;
    gap: 7px;
    padding: 5px 8px;
    border-radius: 7px;
    background: var(--plate);
    color: var(--ink);
    letter-spacing: 0.06em;
    text-decoration: none;
    white-space: nowrap;
  }
  i {
    width: 4px;
    height: 4px;
    border-radius: 50%;
    background: var(--rivet);
  }
</style>
